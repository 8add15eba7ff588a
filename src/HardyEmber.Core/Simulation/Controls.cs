using System.Globalization;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Simulation;

/// <summary>The controls of one machine: what a command may do to each, and where the machine itself puts them back.</summary>
public sealed class Controls
{
    private readonly Dictionary<string, Control> _byId;
    private readonly (Control Control, Switch[] Whens)[] _returning;
    private readonly SignalTable _signals;
    private readonly GeoPosition _spot;

    /// <summary>A control as it is on every machine of the aircraft.</summary>
    /// <param name="Index">Its place among the signals.</param>
    /// <param name="Rest">The position to which it springs back.</param>
    /// <param name="Entry">Of a position: where its latitude stands, and behind it the longitude.</param>
    private sealed record Control(ControlDefinition Definition, int Index, int Rest, int Entry, (int From, int To)[] Returns);

    public Controls(MachineContext context)
    {
        _signals = context.Signals;
        _spot = new GeoPosition(context.Station.Spot.LatitudeDeg, context.Station.Spot.LongitudeDeg);
        _byId = context.Alike(() => new Dictionary<string, Control>(StringComparer.Ordinal));
        foreach (var d in context.Aircraft.Controls)
        {
            if (context.Explains)
            {
                Check(d, context);
            }

            var (position, number) = LeftPositions.Of(d, context.Aircraft, context.Place, context.Header);
            var index = d.Kind == ControlKind.Dial ? _signals.AddNumber(d.Id, d.Unit, d.Step, number, byHand: true)
                : _signals.AddPositions(d.Id, d.Positions, PositionIn(d, position!, context), byHand: true);
            var entry = d.Kind == ControlKind.Position ? _signals.AddNumber(LatitudeOf(d.Id), "°", 0.0001) : 0;
            if (entry > 0)
            {
                _signals.AddNumber(LongitudeOf(d.Id), "°", 0.0001);
            }

            if (context.Explains)
            {
                _byId.Add(d.Id, new Control(d, index, d.Kind == ControlKind.Dial ? 0 : PositionIn(d, d.Default!, context), entry,
                    [.. d.Returns.Select(r => (PositionIn(d, r.From, context), PositionIn(d, r.To, context)))]));
            }
        }

        if (context.Explains && context.Aircraft.Flight.Positions.Keys.FirstOrDefault(c => !_byId.ContainsKey(c)) is { } stranger)
        {
            context.Wrong($"flight.positions.{stranger}", $"there is no control \"{stranger}\"{Nearest.Hint(stranger, _byId.Keys)}");
        }

        _returning = [.. _byId.Values.Where(c => c.Returns.Length > 0).Select(c => (c, Whens(c.Definition, context)))];
        if (context.Explains)
        {
            foreach (var (control, whens) in _returning)
            {
                Explain(context, control, whens);
            }
        }
    }

    private static Switch[] Whens(ControlDefinition d, MachineContext context) => [.. d.Returns.Select((r, i) => context.Switch(r.When, $"controls.{d.Id}.returns[{i}].when"))];

    /// <summary>The signal with the latitude that a position control was given, degrees.</summary>
    public static string LatitudeOf(string control) => $"{control}.latitude";

    /// <inheritdoc cref="LatitudeOf"/>
    public static string LongitudeOf(string control) => $"{control}.longitude";

    private static void Explain(MachineContext context, Control control, Switch[] whens)
    {
        var d = control.Definition;
        foreach (var ((from, _), i) in control.Returns.Select((r, i) => (r, i)))
        {
            context.Gate(d.Id, GateKind.Springs, $"controls.{d.Id}.returns[{i}]", $"Springs back from {d.Positions[from]}", whens[i], position: d.Positions[from]);
        }
    }

    private static void Check(ControlDefinition d, MachineContext context)
    {
        if (d.Wheels && (d.Kind != ControlKind.Dial || d.Step != 1 || d.Min < 0))
        {
            context.Wrong($"controls.{d.Id}.wheels", "only a dial of whole numbers has a wheel for each figure");
        }

        if (d.Kind == ControlKind.Dial)
        {
            return;
        }

        void Known(string field, IEnumerable<string?> positions)
        {
            if (positions.FirstOrDefault(p => p is null || !d.Positions.Contains(p), "") is not "" and var unknown)
            {
                context.Wrong($"controls.{d.Id}.{field}", $"\"{unknown}\" is none of {string.Join(", ", d.Positions)}");
            }
        }

        Known("default", [d.Default]);
        Known("sprung", d.Sprung);
        Known("leftAt", d.LeftAt.Keys);
        Known("aboard", d.Aboard is null ? [] : [d.Aboard]);
        if (context.Aircraft.Flight.Positions.TryGetValue(d.Id, out var flown) && !d.Positions.Contains(flown))
        {
            context.Wrong($"flight.positions.{d.Id}", $"\"{flown}\" is none of {string.Join(", ", d.Positions)}");
        }
    }

    private static int PositionIn(ControlDefinition d, string word, MachineContext context)
    {
        var index = SignalInfo.PlaceOf(word, d.Positions);
        if (index < 0)
        {
            context.Wrong($"controls.{d.Id}.returns", $"\"{word}\" is none of {string.Join(", ", d.Positions)}");
        }

        return Math.Max(0, index);
    }

    /// <summary>Checks a command without applying it.</summary>
    /// <exception cref="CommandException">It cannot be obeyed.</exception>
    public void Check(RunCommand command)
    {
        if (command.Kind == CommandKind.End)
        {
            return;
        }

        if (command.Kind == CommandKind.Look)
        {
            if (_signals.Find(SignalTable.SeenPrefix + command.Target) is null)
            {
                throw new CommandException("look", $"there is no control, signal or lamp \"{command.Target}\"");
            }

            return;
        }

        if (!_byId.TryGetValue(command.Target, out var control))
        {
            throw new CommandException(command.Kind.ToString().ToLower(CultureInfo.InvariantCulture), $"there is no control \"{command.Target}\"");
        }

        var d = control.Definition;
        if (command.Kind == CommandKind.Release)
        {
            return;
        }

        if (d.Kind == ControlKind.Position)
        {
            _ = command.Kind == CommandKind.Set && command.Position is { } text ? Entered(text)
                : throw new CommandException("to", $"\"{d.Id}\" is set to a position, or to \"{ControlDefinition.TakesSpot}\"");
            return;
        }

        if (d.Kind == ControlKind.Dial)
        {
            if (command.Kind == CommandKind.Hold || command.Number is not { } number || double.IsNaN(number) || number < d.Min || number > d.Max)
            {
                throw new CommandException("to", string.Create(CultureInfo.InvariantCulture,
                    $"\"{d.Id}\" takes a number from {d.Min} to {d.Max} {d.Unit}").TrimEnd());
            }

            return;
        }

        if (command.Position is null || SignalInfo.PlaceOf(command.Position, d.Positions) < 0)
        {
            throw new CommandException("to", $"\"{d.Id}\" has no position \"{command.Position}\" ({string.Join(", ", d.Positions)})");
        }

        var sprung = d.Sprung.Contains(command.Position);
        if (command.Kind == CommandKind.Hold && !sprung)
        {
            throw new CommandException("hold", $"\"{d.Id}\" stays at \"{command.Position}\" by itself: set it");
        }

        if (command.Kind == CommandKind.Set && sprung)
        {
            throw new CommandException("set", $"\"{d.Id}\" springs back from \"{command.Position}\": hold it");
        }
    }

    private GeoPosition Entered(string text)
    {
        try
        {
            return text == ControlDefinition.TakesSpot ? _spot : GeoPosition.Parse(text);
        }
        catch (FormatException e)
        {
            throw new CommandException("to", e.Message);
        }
    }

    /// <summary>Applies a checked command; <paramref name="moved"/> is called at each position on the way.</summary>
    public void Apply(RunCommand command, Action moved)
    {
        var values = _signals.Values;
        switch (command.Kind)
        {
            case CommandKind.Look:
                values[_signals.Find(SignalTable.SeenPrefix + command.Target)!.Index] = 1;
                moved();
                break;
            case CommandKind.Report:
                break; // words change nothing in the machine; the judge hears them
            case CommandKind.Release:
                var held = _byId[command.Target];
                if (held.Definition.Kind != ControlKind.Dial && held.Definition.Sprung.Contains(held.Definition.Positions[(int)values[held.Index]]))
                {
                    values[held.Index] = held.Rest;
                    moved();
                }

                break;
            case CommandKind.Set or CommandKind.Hold:
                Move(_byId[command.Target], command, values, moved);
                break;
        }
    }

    private void Move(Control control, RunCommand command, double[] values, Action moved)
    {
        var d = control.Definition;
        if (d.Kind == ControlKind.Position)
        {
            var entered = Entered(command.Position!);
            (values[control.Index], values[control.Entry], values[control.Entry + 1]) = (1, entered.LatitudeDeg, entered.LongitudeDeg);
            moved();
            return;
        }

        if (d.Kind == ControlKind.Dial)
        {
            values[control.Index] = command.Number!.Value;
            moved();
            return;
        }

        var from = (int)values[control.Index];
        var to = SignalInfo.PlaceOf(command.Position!, d.Positions);
        if (d.Kind != ControlKind.Knob || from == to)
        {
            values[control.Index] = to;
            moved();
            return;
        }

        // A knob passes through what lies between.
        for (var at = from; at != to;)
        {
            at += to > at ? 1 : -1;
            values[control.Index] = at;
            moved();
        }
    }

    /// <summary>Springs back every control whose return condition holds; true if one moved.</summary>
    public bool SpringBack(double[] values)
    {
        var any = false;
        foreach (var (control, whens) in _returning)
        {
            for (var i = 0; i < whens.Length; i++)
            {
                if ((int)values[control.Index] == control.Returns[i].From && whens[i].On)
                {
                    values[control.Index] = control.Returns[i].To;
                    any = true;
                    break;
                }
            }
        }

        return any;
    }
}
