using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Ill treatment from a kept seed; <c>./ember soak</c> goes on with others, <c>./ember bench abuse</c> with more of it.</summary>
[Trait("search", "yes")]
public sealed class SearchTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static void Unharmed(Treated treated)
    {
        Assert.True(treated.Refused > 0);
        Assert.True(treated.Wrong.Count == 0,
            $"{treated.Wrong.Count} of {treated.Times}: {string.Join("\n", treated.Wrong.Take(5))}\nagain: EMBER_SEED={Property.Seed} ./ember soak once");
    }

    [Fact]
    public async Task A_broken_run_file_is_refused_by_its_field_or_comes_back_equal() => Unharmed(await Abuse.ImportsAsync(fixture.Server, Property.Seed, 250));

    [Fact]
    public async Task No_senseless_request_is_an_error_of_the_server() => Unharmed(await Abuse.RequestsAsync(fixture.Server, Property.Seed, 300));

    [Fact]
    public async Task A_senseless_call_is_answered_with_a_word_and_changes_nothing() => Unharmed(await Abuse.CallsAsync(fixture.Server, Property.Seed, 300));

    [Fact]
    public async Task Killed_at_any_instant_it_keeps_what_it_acknowledged_and_judges_what_ended() => Unharmed(await Abuse.KillsAsync(Property.Seed, 2));
}
