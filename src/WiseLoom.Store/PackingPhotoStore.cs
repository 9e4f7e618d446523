using Npgsql;
using WiseLoom.Core.Handover;

namespace WiseLoom.Store;

/// <summary>A photo of a job's packed box, without its picture.</summary>
public sealed record PackingPhoto(Guid Key, string TakenBy, DateTimeOffset TakenAt);

/// <summary>How a photo of a packed box fared.</summary>
public enum PackingStored
{
    /// <summary>It is kept, now or before.</summary>
    Kept,

    /// <summary>As many as a pack shows stand there already.</summary>
    Full,

    /// <summary>The job has had as many photos as one ever keeps.</summary>
    TooMany,

    /// <summary>The key belongs to another job, or to a photo that was taken out.</summary>
    KeyUsed,
}

/// <summary>Photos of packed boxes.</summary>
public sealed class PackingPhotoStore(NpgsqlDataSource source)
{
    private const string Stands = "job_id = @job and out_at is null";

    /// <summary>Those that stand, the first first.</summary>
    public Task<List<PackingPhoto>> OfJobAsync(long job, CancellationToken cancel) =>
        new Sql(source, $"select f.key, p.name, f.taken_at from packing_photos f join people p on p.id = f.taken_by where {Stands} order by f.taken_at, f.key")
            .With("job", job).ListAsync(row => new PackingPhoto(row.GetGuid(0), row.GetString(1), row.GetFieldValue<DateTimeOffset>(2)), cancel);

    /// <summary>Whether another would be kept.</summary>
    public Task<PackingStored> RoomAsync(long job, Guid key, CancellationToken cancel) => source.TogetherAsync(transaction => RoomAsync(transaction, job, key, cancel), _ => false, cancel);

    /// <summary>Keeps a photo; the same key again keeps nothing more.</summary>
    public Task<PackingStored> KeepAsync(long job, Guid key, KeptPhoto photo, Guid by, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(photo);
        return source.TogetherAsync(
            async transaction =>
            {
                await JobLock.TakeAsync(transaction, job, cancel).ConfigureAwait(false);
                if (await RoomAsync(transaction, job, key, cancel).ConfigureAwait(false) is var room && room != PackingStored.Kept)
                {
                    return room;
                }

                if (await new Sql(transaction, "insert into packing_photos (key, job_id, large, small, taken_by) values (@key, @job, @large, @small, @by) on conflict (key) do nothing")
                    .With("key", key).With("job", job).With("large", photo.Large).With("small", photo.Small).With("by", by).RunAsync(cancel).ConfigureAwait(false) > 0)
                {
                    await JobNews.TellAsync(transaction, job, cancel).ConfigureAwait(false);
                }

                // A key that came for another job at the same moment is that job's.
                return await RoomAsync(transaction, job, key, cancel).ConfigureAwait(false);
            },
            stored => stored == PackingStored.Kept,
            cancel);
    }

    /// <summary>Takes a photo out of the packs to come; a signed one keeps it.</summary>
    /// <returns>Whether the job has, or had, such a photo.</returns>
    public Task<bool> TakeOutAsync(long job, Guid key, Guid by, CancellationToken cancel) => source.TogetherAsync(
        async transaction =>
        {
            await JobLock.TakeAsync(transaction, job, cancel).ConfigureAwait(false);
            if (await new Sql(transaction, $"update packing_photos set out_by = @by, out_at = now() where key = @key and {Stands}")
                .With("by", by).With("key", key).With("job", job).RunAsync(cancel).ConfigureAwait(false) > 0)
            {
                await JobNews.TellAsync(transaction, job, cancel).ConfigureAwait(false);
            }

            return await new Sql(transaction, "select exists (select from packing_photos where key = @key and job_id = @job)").With("key", key).With("job", job).ScalarAsync<bool>(cancel).ConfigureAwait(false);
        },
        _ => true,
        cancel);

    /// <summary>One picture that stands; null when the job has none of this key.</summary>
    /// <param name="small">Whether as a pack shows it.</param>
    public async Task<byte[]?> FindAsync(long job, Guid key, bool small, CancellationToken cancel) =>
        (await new Sql(source, $"select case when @is_small then small else large end from packing_photos where key = @key and {Stands}")
            .With("is_small", small).With("key", key).With("job", job).ListAsync(row => row.GetFieldValue<byte[]>(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    private static async Task<PackingStored> RoomAsync(NpgsqlTransaction transaction, long job, Guid key, CancellationToken cancel)
    {
        var (mine, used, standing, kept) = (await new Sql(transaction, $"""
            select exists (select from packing_photos where key = @key and {Stands}), exists (select from packing_photos where key = @key),
                   (select count(*) from packing_photos where {Stands}), (select count(*) from packing_photos where job_id = @job)
            """).With("key", key).With("job", job).ListAsync(row => (row.GetBoolean(0), row.GetBoolean(1), row.GetInt64(2), row.GetInt64(3)), cancel).ConfigureAwait(false))[0];
        return mine ? PackingStored.Kept : used ? PackingStored.KeyUsed : standing >= PackingPhotos.Most ? PackingStored.Full : kept >= PackingPhotos.MostKept ? PackingStored.TooMany : PackingStored.Kept;
    }
}
