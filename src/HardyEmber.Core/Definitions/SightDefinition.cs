namespace HardyEmber.Core.Definitions;

/// <summary>A helmet sight that is aligned by hand and eye against a fixed mark in front. Angles in milliradians.</summary>
public sealed record SightDefinition
{
    public required string Control { get; init; }

    /// <summary>The control's positions in which it is put on the mark, and turned upright.</summary>
    public required string Place { get; init; }

    /// <inheritdoc cref="Place"/>
    public required string Turn { get; init; }

    /// <summary>The dials that move it.</summary>
    public required string Azimuth { get; init; }

    /// <inheritdoc cref="Azimuth"/>
    public required string Elevation { get; init; }

    /// <inheritdoc cref="Azimuth"/>
    public required string Roll { get; init; }

    /// <summary>The key that saves, and its held position.</summary>
    public required string Save { get; init; }

    /// <inheritdoc cref="Save"/>
    public required string Saving { get; init; }

    /// <summary>Condition: it is fed and warm.</summary>
    public required string On { get; init; }

    /// <summary>It saves the mean of the last so many seconds that its key is held.</summary>
    public required double HoldS { get; init; }

    /// <summary>What is left may be so much.</summary>
    public required double MarkMrad { get; init; }

    /// <summary>How far it stands off on a head that it does not know, azimuth and elevation, and turned; 1 sigma.</summary>
    public required double OffMrad { get; init; }

    /// <inheritdoc cref="OffMrad"/>
    public required double RollMrad { get; init; }

    /// <summary>How much a head sways, each way, 1 sigma.</summary>
    public required double SwayMrad { get; init; }
}
