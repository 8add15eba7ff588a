namespace HardyEmber.Core.Simulation;

/// <summary>
/// A part of the machine. <see cref="Logic"/> decides (valves, contactors, latches) after every command and whenever a
/// condition, a contactor or a fault has changed; <see cref="Quiet"/> five times a second when none has;
/// <see cref="Slow"/> integrates slow states five times a second. A part that is <see cref="Asleep"/> is left alone until
/// something changes. What it writes are the signals it registers when it is made; what it reads of others it says in
/// <see cref="Bind"/>, and the order of the step follows from that (see <see cref="StepOrder"/>).
/// </summary>
public abstract class MachineSystem
{
    /// <summary>Nothing of it moves by itself.</summary>
    internal const double Asleep = double.PositiveInfinity;

    /// <summary>What moves smoothly may be integrated in steps as long as this, s.</summary>
    protected const double Easing = 0.6;

    /// <summary>What only drifts may be integrated in steps as long as this, s.</summary>
    internal const double Drifting = 8;

    /// <summary>What it is called where the order of the step cannot be found.</summary>
    public virtual string Name => GetType().Name;

    /// <summary>
    /// How long its next integration step may be, s: 0 for the shortest there is, <see cref="Easing"/>, <see cref="Drifting"/>, the time to the next
    /// event it foresees, or <see cref="Asleep"/>. Set in <see cref="Slow"/>; it holds while nothing is disturbed.
    /// </summary>
    public double PaceS { get; protected set; }

    /// <summary>Called once, when every signal is registered and the value array is final: to say what it reads.</summary>
    public virtual void Bind(MachineContext context) { }

    /// <summary>Called once after that, in the order of the step: to take the state in which the run begins.</summary>
    public virtual void Begin() { }

    public virtual void Logic() { }

    /// <summary>In place of <see cref="Logic"/> where all that it decides by is as it was; to be overridden by who then decides the same.</summary>
    public virtual void Quiet() => Logic();

    /// <param name="dt">Seconds since the last call.</param>
    public virtual void Slow(double dt) { }
}

/// <summary>A part with something that moves within a tick: spools, air, flight.</summary>
public abstract class MovingSystem : MachineSystem
{
    /// <summary>Until something changes, one stride at each tick follows it.</summary>
    public bool Even { get; protected set; } = true;

    /// <summary>It takes short steps whenever any other part does: what it gives is wanted at each of them.</summary>
    public virtual bool Follows => false;

    /// <param name="dt">Seconds to move on, a step or up to a second where it is even.</param>
    public abstract void Move(double dt);
}

/// <summary>When a part reads what another writes.</summary>
public enum Phase
{
    /// <summary>At a tick, where parts decide and slow states are integrated.</summary>
    Tick,

    /// <summary>Within a tick, where fast states move.</summary>
    Move,

    /// <summary>As it was one step before: what closes a circle of causes.</summary>
    Before,
}
