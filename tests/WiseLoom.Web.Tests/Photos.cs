using SkiaSharp;

namespace WiseLoom.Web.Tests;

/// <summary>Pictures as a camera would send them.</summary>
internal static class Photos
{
    internal static byte[] Picture(int width, int height, SKEncodedImageFormat format = SKEncodedImageFormat.Jpeg)
    {
        using var bitmap = new SKBitmap(width, height);
        bitmap.Erase(SKColors.SteelBlue);
        bitmap.SetPixel(0, 0, SKColors.Red);
        using var data = bitmap.Encode(format, 90);
        return data.ToArray();
    }

    /// <summary>Files that are no photo: what they are, the file, the answer and what it says.</summary>
    public static TheoryData<string, byte[], System.Net.HttpStatusCode, string> Bad => new()
    {
        { "text", "not a picture at all"u8.ToArray(), System.Net.HttpStatusCode.UnprocessableEntity, "no photo" },
        { "nothing", [], System.Net.HttpStatusCode.UnprocessableEntity, "no photo" },
        { "a drawing", "<svg xmlns='x'><script>alert(1)</script></svg>"u8.ToArray(), System.Net.HttpStatusCode.UnprocessableEntity, "no photo" },
        { "half a photo", Picture(3000, 2000, SKEncodedImageFormat.Png)[..400], System.Net.HttpStatusCode.UnprocessableEntity, "damaged" },
        { "too many pixels", Picture(6000, 4100, SKEncodedImageFormat.Png), System.Net.HttpStatusCode.UnprocessableEntity, "too many pixels" },
        { "too large a file", new byte[(8 * 1024 * 1024) + 1], System.Net.HttpStatusCode.RequestEntityTooLarge, "too large" },
    };
}
