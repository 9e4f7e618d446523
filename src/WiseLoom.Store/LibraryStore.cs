using Npgsql;

namespace WiseLoom.Store;

/// <summary>A family of the shop's library.</summary>
/// <param name="Body">The family as a loom file writes it.</param>
public sealed record StoredFamily(string Id, string Body, int Version);

/// <summary>Groups of phrases that mean the same, as JSON.</summary>
public sealed record StoredSynonyms(string Groups, int Version);

/// <summary>What the shop knows beside its jobs: families, device types, synonyms.</summary>
public sealed class LibraryStore(NpgsqlDataSource source)
{
    public Task<List<StoredFamily>> FamiliesAsync(CancellationToken cancel) =>
        new Sql(source, "select id, body::text, version from families order by id").ListAsync(ReadFamily, cancel);

    public Task<StoredFamily?> FamilyAsync(string id, CancellationToken cancel) =>
        new Sql(source, "select id, body::text, version from families where id = @id").With("id", id).FirstAsync(ReadFamily, cancel);

    /// <summary>Adds a family.</summary>
    /// <returns>False when the shop has one with this id.</returns>
    public async Task<bool> AddFamilyAsync(string id, string body, Guid by, CancellationToken cancel) =>
        await new Sql(source, "insert into families (id, body, changed_by) values (@id, @body, @by) on conflict (id) do nothing")
            .With("id", id).WithJson("body", body).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>Changes a family when nobody else has since.</summary>
    /// <returns>False when it is no longer at <paramref name="version"/>.</returns>
    public async Task<bool> ChangeFamilyAsync(string id, int version, string body, Guid by, CancellationToken cancel) =>
        await new Sql(source, """
            update families set body = @body, version = version + 1, changed_by = @by, changed_at = now()
            where id = @id and version = @version
            """)
            .With("id", id).With("version", version).WithJson("body", body).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>Device types, each as JSON.</summary>
    public Task<List<string>> DeviceTypesAsync(CancellationToken cancel) =>
        new Sql(source, "select body::text from device_types order by id").ListAsync(row => row.GetString(0), cancel);

    public Task AddDeviceTypeAsync(string id, string body, CancellationToken cancel) =>
        new Sql(source, "insert into device_types (id, body) values (@id, @body) on conflict (id) do nothing").With("id", id).WithJson("body", body).RunAsync(cancel);

    public async Task<StoredSynonyms> SynonymsAsync(CancellationToken cancel) =>
        (await new Sql(source, "select groups::text, version from synonyms").FirstAsync(row => new StoredSynonyms(row.GetString(0), row.GetInt32(1)), cancel).ConfigureAwait(false))!;

    /// <summary>Changes the synonyms when nobody else has since.</summary>
    public async Task<bool> ChangeSynonymsAsync(int version, string groups, CancellationToken cancel) =>
        await new Sql(source, "update synonyms set groups = @groups, version = version + 1 where version = @version")
            .WithJson("groups", groups).With("version", version).RunAsync(cancel).ConfigureAwait(false) == 1;

    private static StoredFamily ReadFamily(NpgsqlDataReader row) => new(row.GetString(0), row.GetString(1), row.GetInt32(2));
}
