using System.CommandLine;

namespace HardyEmber.Cli;

/// <summary>What is said of a command line that is not understood.</summary>
internal static class Usage
{
    /// <summary>Says what was wrong and prints the command's usage.</summary>
    public static int Refuse(ParseResult parsed, TextWriter error)
    {
        foreach (var problem in parsed.Errors)
        {
            error.WriteLine(problem.Message);
        }

        var command = parsed.CommandResult.Command;
        using var usage = new StringWriter();
        var path = command is RootCommand ? [] : new[] { command.Name };
        parsed.RootCommandResult.Command.Parse([.. path, "--help"]).Invoke(new InvocationConfiguration { Output = usage, Error = usage });
        error.Write(usage.ToString());
        return SimCommand.Bad;
    }
}
