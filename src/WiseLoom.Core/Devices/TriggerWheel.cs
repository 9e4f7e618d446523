namespace WiseLoom.Core.Devices;

/// <summary>How a sensor of a toothed wheel works.</summary>
public enum TriggerKind
{
    /// <summary>A coil that the passing iron induces a voltage in; its two wires have a right way round.</summary>
    Inductive,

    /// <summary>A switch on three wires that a magnetic field moves.</summary>
    Hall,
}

/// <summary>Which edge of a trigger's signal marks a tooth.</summary>
public enum TriggerEdge
{
    /// <summary>The signal falls as the middle of a tooth passes.</summary>
    Falling,

    /// <summary>The signal rises as the middle of a tooth passes.</summary>
    Rising,
}

/// <summary>A toothed wheel and the sensor that reads it.</summary>
/// <param name="Teeth">Places for teeth around the wheel, the missing ones among them; 1 to 400.</param>
/// <param name="Missing">How many of them in a row are missing; 0 to 4, fewer than <paramref name="Teeth"/>.</param>
/// <param name="PerTurn">Turns of the wheel in one turn of the crank: 1 on the crank, 0.5 on the cam; 0.1 to 10.</param>
/// <param name="Edge">The edge that the controller must be set to.</param>
public sealed record TriggerWheel(TriggerKind Kind, int Teeth, int Missing, double PerTurn, TriggerEdge Edge)
{
    /// <summary>Of a cam: how many teeth of the crank after its gap the cam's edge comes; null when the file does not say.</summary>
    public double? SyncTooth { get; init; }

    /// <summary>Teeth that are there, seen in one turn of the crank.</summary>
    public double EdgesPerCrankTurn => (Teeth - Missing) * PerTurn;

    /// <summary>The wheel as people write it: <c>36−1</c>.</summary>
    public string InWords() => Missing == 0 ? $"{Teeth}" : $"{Teeth}−{Missing}";

    private static readonly Dictionary<string, TriggerKind> Kinds = new(StringComparer.Ordinal) { ["inductive"] = TriggerKind.Inductive, ["hall"] = TriggerKind.Hall };

    private static readonly Dictionary<string, TriggerEdge> Edges = new(StringComparer.Ordinal) { ["falling"] = TriggerEdge.Falling, ["rising"] = TriggerEdge.Rising };

    /// <summary>Reads the entry of a device; null when it has none, or when something in it is wrong, and the place has then been told.</summary>
    internal static TriggerWheel? Read(JsonPlace device)
    {
        if (device.Object("trigger") is not { } place)
        {
            if (device.Has("trigger"))
            {
                device.Wrong("trigger", "An object is needed here, such as {\"kind\": \"inductive\", \"teeth\": 36, \"missing\": 1}.");
            }

            return null;
        }

        if (!place.Has("kind"))
        {
            place.Wrong("kind", "Missing. Write inductive or hall.");
        }

        var kind = place.Word("kind", Kinds);
        var teeth = Whole(place, "teeth", 1, 400, required: true);
        var missing = Whole(place, "missing", 0, 4, required: false) ?? 0;
        var perTurn = place.Number("perTurn", 0.1, 10, unit: "turns of the wheel in one of the crank") ?? 1;
        var edge = place.Word("polarity", Edges) ?? TriggerEdge.Falling;
        if (teeth is { } all && missing >= all)
        {
            place.Wrong("missing", $"Of {all} teeth fewer than {all} can be missing.");
            return null;
        }

        var sync = place.Number("syncTooth", 0, 400, unit: "teeth of the crank");
        return kind is { } known && teeth is { } count ? new(known, count, missing, perTurn, edge) { SyncTooth = sync } : null;
    }

    private static int? Whole(JsonPlace place, string field, double least, double most, bool required)
    {
        if (place.Number(field, least, most, required, "teeth") is not { } number)
        {
            return null;
        }

        if (number != Math.Floor(number))
        {
            place.Wrong(field, "Teeth are counted in whole numbers.");
            return null;
        }

        return (int)number;
    }
}
