using Npgsql;

namespace WiseLoom.Store;

/// <summary>A photo as it is kept: JPEG in two sizes, without metadata.</summary>
/// <param name="Large">At most 1600 pixels on its longer side.</param>
/// <param name="Small">At most 320 of a run, 640 of a packed box.</param>
public sealed record KeptPhoto(byte[] Large, byte[] Small);

/// <summary>Pictures of the photos of all runs. Whether a photo is part of a run, its event says.</summary>
public sealed class PhotoStore(NpgsqlDataSource source)
{
    /// <summary>Keeps a photo; the same key twice is one photo, the first.</summary>
    public async Task KeepAsync(Guid key, long run, KeptPhoto photo, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(photo);
        await new Sql(source, "insert into run_photos (key, run_id, large, small) values (@key, @run, @large, @small) on conflict (key) do nothing")
            .With("key", key).With("run", run).With("large", photo.Large).With("small", photo.Small).RunAsync(cancel).ConfigureAwait(false);
    }

    /// <summary>One picture of a run; null when the run has none of this key.</summary>
    /// <param name="small">Whether the small one.</param>
    public async Task<byte[]?> FindAsync(Guid key, long run, bool small, CancellationToken cancel) =>
        (await new Sql(source, "select case when @is_small then small else large end from run_photos where key = @key and run_id = @run")
            .With("is_small", small).With("key", key).With("run", run).ListAsync(row => row.GetFieldValue<byte[]>(0), cancel).ConfigureAwait(false)).FirstOrDefault();
}
