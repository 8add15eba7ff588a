using System.Globalization;
using System.Text.RegularExpressions;

namespace HardyEmber.Core.Definitions;

/// <summary>What a text may hold, in a run's header and in the data files.</summary>
internal static partial class SoundText
{
    /// <summary>What is wrong with a text: too long, or a character that cannot be written, seen or read again. Null where nothing is.</summary>
    public static string? Problem(string text, int longest)
    {
        if (text.Length > longest)
        {
            return $"at most {longest} characters";
        }

        for (var i = 0; i < text.Length; i++)
        {
            var pair = i + 1 < text.Length && char.IsSurrogatePair(text[i], text[i + 1]);
            if (char.IsControl(text[i]) || char.IsSurrogate(text[i]) && !pair || CharUnicodeInfo.GetUnicodeCategory(text, i) == UnicodeCategory.Format)
            {
                return "the text holds a character that cannot be written";
            }

            i += pair ? 1 : 0;
        }

        return null;
    }

    /// <summary>The same for a name that others refer to, as the id of a control: what conditions and headings of tables can hold.</summary>
    public static string? NameProblem(string name) => name.Length is 0 or > DataLimits.LongestName || !Name().IsMatch(name)
        ? $"a name has 1 to {DataLimits.LongestName} letters, figures, dots, dashes and spaces, and begins with a letter or figure" : null;

    [GeneratedRegex(@"^[A-Za-z0-9][A-Za-z0-9 ._/-]*$")]
    private static partial Regex Name();
}
