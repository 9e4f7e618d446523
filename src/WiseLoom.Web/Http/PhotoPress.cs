using SkiaSharp;
using WiseLoom.Store;

namespace WiseLoom.Web.Http;

/// <summary>Makes plain pictures of whatever a camera wrote: turned upright, made smaller, nothing in them but the picture.</summary>
internal static class PhotoPress
{
    /// <summary>Longer side of the larger size, pixels.</summary>
    internal const int LargeSide = 1600;

    /// <summary>A JPEG can be read at a part of its size; other forms are read whole, so less of them is taken.</summary>
    private const long MostPixels = 120_000_000, MostPixelsWhole = 24_000_000;

    private const int Quality = 82;

    /// <summary>Reads a photo and writes it anew.</summary>
    /// <param name="smallSide">Longer side of the smaller size, pixels.</param>
    /// <param name="wrong">What is wrong with it, in words; null when it was taken.</param>
    internal static KeptPhoto? Make(byte[] file, int smallSide, out string? wrong)
    {
        using var data = SKData.CreateCopy(file);
        using var codec = SKCodec.Create(data);
        wrong = codec is null || codec.EncodedFormat is not (SKEncodedImageFormat.Jpeg or SKEncodedImageFormat.Png or SKEncodedImageFormat.Webp) ? "This is no photo. A JPEG, PNG or WebP file is taken."
            : (long)codec.Info.Width * codec.Info.Height > (codec.EncodedFormat == SKEncodedImageFormat.Jpeg ? MostPixels : MostPixelsWhole) ? "This photo has too many pixels. A camera’s JPEG of up to 120 million is taken, other pictures up to 24 million."
            : null;
        if (wrong is not null)
        {
            return null;
        }

        using var read = Read(codec!);
        if (read is null)
        {
            wrong = "This photo is damaged: it cannot be read to its end.";
            return null;
        }

        using var upright = Upright(read, codec!.EncodedOrigin);
        return new(Written(upright, LargeSide), Written(upright, smallSide));
    }

    private static SKBitmap? Read(SKCodec codec)
    {
        var size = codec.Info.Size;
        var share = (float)LargeSide / Math.Max(size.Width, size.Height);
        var (width, height) = share < 1 ? (codec.GetScaledDimensions(share).Width, codec.GetScaledDimensions(share).Height) : (size.Width, size.Height);

        // A part of the size that falls below what is wanted is not taken.
        if (share < 1 && Math.Max(width, height) < LargeSide)
        {
            (width, height) = (codec.GetScaledDimensions(Math.Min(1, share * 2)).Width, codec.GetScaledDimensions(Math.Min(1, share * 2)).Height);
        }

        var bitmap = new SKBitmap(new SKImageInfo(width, height, SKColorType.Rgba8888, SKAlphaType.Premul));
        if (codec.GetPixels(bitmap.Info, bitmap.GetPixels()) == SKCodecResult.Success)
        {
            return bitmap;
        }

        bitmap.Dispose();
        return null;
    }

    /// <summary>As the camera was held: cameras write that beside the picture, where it would be lost.</summary>
    private static SKBitmap Upright(SKBitmap read, SKEncodedOrigin origin)
    {
        var (w, h) = (read.Width, read.Height);
        var lies = origin is SKEncodedOrigin.LeftTop or SKEncodedOrigin.RightTop or SKEncodedOrigin.RightBottom or SKEncodedOrigin.LeftBottom;
        var upright = new SKBitmap(new SKImageInfo(lies ? h : w, lies ? w : h, SKColorType.Rgba8888, SKAlphaType.Opaque));
        using var canvas = new SKCanvas(upright);
        canvas.Clear(SKColors.White);
        canvas.SetMatrix(origin switch
        {
            SKEncodedOrigin.TopRight => new SKMatrix(-1, 0, w, 0, 1, 0, 0, 0, 1),
            SKEncodedOrigin.BottomRight => new SKMatrix(-1, 0, w, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.BottomLeft => new SKMatrix(1, 0, 0, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.LeftTop => new SKMatrix(0, 1, 0, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightTop => new SKMatrix(0, -1, h, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightBottom => new SKMatrix(0, -1, h, -1, 0, w, 0, 0, 1),
            SKEncodedOrigin.LeftBottom => new SKMatrix(0, 1, 0, -1, 0, w, 0, 0, 1),
            _ => SKMatrix.Identity,
        });
        canvas.DrawBitmap(read, 0, 0, SKSamplingOptions.Default);
        return upright;
    }

    private static byte[] Written(SKBitmap upright, int side)
    {
        var share = Math.Min(1, (double)side / Math.Max(upright.Width, upright.Height));
        var size = new SKSizeI(Math.Max(1, (int)Math.Round(upright.Width * share)), Math.Max(1, (int)Math.Round(upright.Height * share)));
        using var sized = share < 1 ? upright.Resize(size, new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear)) : upright.Copy();
        using var image = SKImage.FromBitmap(sized);
        using var written = image.Encode(SKEncodedImageFormat.Jpeg, Quality);
        return written.ToArray();
    }
}
