namespace HardyEmber.Core.Definitions;

/// <summary>
/// How much a data file may hold: every limit on length, depth and number stands here. The fleet's own files reach a third of each at
/// most; a run's file may carry any data, and must not cost a server more than its reader can see.
/// </summary>
public static class DataLimits
{
    /// <summary>Characters of one data file; the same for one line of a run's file.</summary>
    public const int LongestFile = 256 << 10;

    /// <summary>Data files that a run may rest on.</summary>
    public const int MostFiles = 64;

    /// <summary>Values within values of a JSON text, also once its parts are put in.</summary>
    public const int DeepestJson = 32;

    /// <summary>Parts within parts, and "for" within "for".</summary>
    public const int DeepestParts = 12;

    /// <summary>Characters of a text, once its parts are put in.</summary>
    public const int LongestText = 1200;

    /// <summary>Characters of a name: an id, a control, a signal.</summary>
    public const int LongestName = 80;

    /// <summary>Items of a list, or members of an object, once parts are put in.</summary>
    public const int MostItems = 300;

    /// <summary>Words and signs of a condition, also of one that the machine joins from those of many lamps.</summary>
    public const int MostTokens = 4000;

    /// <summary>Brackets and "not" within each other in a condition.</summary>
    public const int DeepestCondition = 16;

    /// <summary>What the parts of one file may come to: a value counts 1, a text 1 more for each eight characters, a turn of a "for" 1.</summary>
    public const int MostWork = 400_000;

    /// <summary>Faults of the data that are listed of one file.</summary>
    public const int MostProblems = 200;
}
