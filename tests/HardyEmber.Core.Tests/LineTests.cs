using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Code and prose that can be read without scrolling sideways. Tables, samples of files and what is generated are as wide as they are.</summary>
public sealed class LineTests
{
    private const int Widest = 180;
    private const string Generated = "types.ts";
    private static readonly string[] Folders = ["src", "tests", "bench", "docs", Path.Combine("web", "src")];
    private static readonly string[] Kinds = [".cs", ".ts", ".tsx", ".md"];
    private static readonly string[] Built = ["bin", "obj", "wwwroot"];

    [Fact]
    public void No_line_is_wider_than_a_page()
    {
        var files = Folders.SelectMany(f => Files(Path.Combine(Repository.Root, f))).Append(Path.Combine(Repository.Root, "README.md")).ToList();
        Assert.All(Kinds, k => Assert.Contains(files, f => f.EndsWith(k, StringComparison.Ordinal)));
        Assert.Empty(files.SelectMany(TooWide));
    }

    private static IEnumerable<string> Files(string folder) => Directory.EnumerateDirectories(folder).Where(d => !Built.Contains(Path.GetFileName(d))).SelectMany(Files)
        .Concat(Directory.EnumerateFiles(folder).Where(f => Kinds.Contains(Path.GetExtension(f)) && Path.GetFileName(f) != Generated));

    private static IEnumerable<string> TooWide(string file)
    {
        var (prose, sample) = (Path.GetExtension(file) == ".md", false);
        foreach (var (number, line) in File.ReadLines(file).Index())
        {
            sample ^= prose && line.StartsWith("```", StringComparison.Ordinal);
            if (line.Length > Widest && !sample && !(prose && line.StartsWith('|')))
            {
                yield return $"{Path.GetRelativePath(Repository.Root, file)}:{number + 1}: {line.Length} characters";
            }
        }
    }
}
