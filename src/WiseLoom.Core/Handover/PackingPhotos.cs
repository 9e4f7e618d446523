namespace WiseLoom.Core.Handover;

/// <summary>How many photos of its packed box a job has.</summary>
public static class PackingPhotos
{
    /// <summary>So many stand in its pack.</summary>
    public const int Most = 4;

    /// <summary>So many are kept, those that were taken out of the pack among them.</summary>
    public const int MostKept = 40;

    /// <summary>Longer side of one in a pack, pixels: things in a box must be told apart.</summary>
    public const int Side = 640;
}
