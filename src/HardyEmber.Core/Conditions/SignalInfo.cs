namespace HardyEmber.Core.Conditions;

public enum SignalKind
{
    /// <summary>A measured value with a unit.</summary>
    Number,

    /// <summary>Yes or no, stored as 1 or 0.</summary>
    Flag,

    /// <summary>A control with named positions, stored as the position's index.</summary>
    Positions,
}

/// <summary>One entry of the signal table.</summary>
/// <param name="Index">Its place in the array of values.</param>
/// <param name="Name">Unique name, e.g. <c>right.n2</c>.</param>
/// <param name="Unit">Unit of the stored value as shown to the pilot; empty where it has none.</param>
/// <param name="ByHand">It moves by commands alone: a control, or what was looked at.</param>
/// <param name="Quantum">Step to which the value is rounded when it is sent or exported.</param>
/// <param name="Hidden">No instrument shows it: the debrief and the judge know it, a pilot cannot look at it.</param>
public sealed record SignalInfo(int Index, string Name, SignalKind Kind, string Unit, double Quantum, IReadOnlyList<string> Positions, bool ByHand = false, bool Hidden = false)
{
    /// <summary>Index of a named position, or −1.</summary>
    public int PositionOf(string word) => PlaceOf(word, Positions);

    internal static int PlaceOf(string word, IReadOnlyList<string> positions)
    {
        for (var i = 0; i < positions.Count; i++)
        {
            if (positions[i] == word)
            {
                return i;
            }
        }

        return -1;
    }
}

/// <summary>The names that a condition may use.</summary>
public interface IVocabulary
{
    /// <summary>What a name stands for; null where nothing has it.</summary>
    SignalInfo? Find(string name);

    /// <summary>Every name there is.</summary>
    IEnumerable<string> Names { get; }
}
