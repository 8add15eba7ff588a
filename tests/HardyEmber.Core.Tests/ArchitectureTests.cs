using System.Xml.Linq;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using NetArchTest.Rules;

namespace HardyEmber.Core.Tests;

/// <summary>The arrows of the house: Web, Cli → Planning, Store → Core. Core knows nobody.</summary>
public sealed class ArchitectureTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["HardyEmber.Core"] = [],
        ["HardyEmber.Planning"] = ["HardyEmber.Core"],
        ["HardyEmber.Store"] = ["HardyEmber.Core"],
        ["HardyEmber.Web"] = ["HardyEmber.Core", "HardyEmber.Planning", "HardyEmber.Store"],
        ["HardyEmber.Cli"] = ["HardyEmber.Core", "HardyEmber.Planning", "HardyEmber.Store"],
    };

    public static TheoryData<string> Projects => [.. Directory.EnumerateFiles(Path.Combine(Repository.Root, "src"), "*.csproj", SearchOption.AllDirectories)];

    [Theory]
    [MemberData(nameof(Projects))]
    public void Project_references_follow_the_arrows(string path)
    {
        var name = Path.GetFileNameWithoutExtension(path);
        Assert.True(Allowed.TryGetValue(name, out var allowed), $"{name} is no part of the house");
        var references = XDocument.Load(path).Descendants("ProjectReference").Select(r => Path.GetFileNameWithoutExtension(r.Attribute("Include")!.Value.Replace('\\', '/')));
        Assert.All(references, r => Assert.Contains(r, allowed));
    }

    /// <summary>The layers of the core, from top to bottom: each may use those below it.</summary>
    private static readonly string[] Layers = ["Runs", "Judging", "Procedures", "Systems", "Simulation", "Conditions", "Definitions", "Numbers"];

    public static TheoryData<string> LayersOfTheCore => [.. Layers];

    [Theory]
    [MemberData(nameof(LayersOfTheCore))]
    public void No_layer_of_the_core_uses_one_above_it(string layer)
    {
        string[] above = [.. Layers.TakeWhile(l => l != layer).Select(Space)];
        var types = Types.InAssembly(typeof(Fleet).Assembly).That().ResideInNamespace(Space(layer));
        Assert.NotEmpty(types.GetTypes());
        var result = types.ShouldNot().HaveDependencyOnAny(above).GetResult();
        Assert.True(above.Length == 0 || result.IsSuccessful, $"{layer}: {string.Join(", ", result.FailingTypeNames ?? [])} use a layer above");
    }

    [Fact]
    public void Every_type_of_the_core_stands_in_a_layer()
    {
        var homeless = typeof(Fleet).Assembly.GetTypes().Where(t => t.Namespace?.StartsWith("HardyEmber", StringComparison.Ordinal) == true
            && !Layers.Select(Space).Contains(t.Namespace));
        Assert.Empty(homeless.Select(t => t.FullName));
    }

    private static string Space(string layer) => $"HardyEmber.Core.{layer}";

    [Theory]
    [InlineData("System.IO.File")]
    [InlineData("System.IO.Directory")]
    [InlineData("System.IO.FileStream")]
    [InlineData("System.Net")]
    [InlineData("System.DateTime")]
    [InlineData("System.DateTimeOffset")]
    [InlineData("System.Diagnostics.Stopwatch")]
    [InlineData("System.Threading.Timer")]
    [InlineData("System.Random")]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Microsoft.Data")]
    public void The_core_has_no_io_no_clock_and_no_web(string forbidden)
    {
        var result = Types.InAssembly(typeof(Fleet).Assembly).ShouldNot().HaveDependencyOn(forbidden).GetResult();
        Assert.True(result.IsSuccessful, $"{forbidden} is used by {string.Join(", ", result.FailingTypeNames ?? [])}");
    }

    [Fact]
    public void The_core_references_only_the_framework() =>
        Assert.DoesNotContain(typeof(Fleet).Assembly.GetReferencedAssemblies(), a => !a.Name!.StartsWith("System", StringComparison.Ordinal));
}
