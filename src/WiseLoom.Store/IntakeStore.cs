using Npgsql;

namespace WiseLoom.Store;

/// <summary>How tables with certain headings are read.</summary>
/// <param name="Body">The mapping as JSON.</param>
public sealed record StoredMapping(long Id, string Name, string Body, string KeptBy, DateTimeOffset KeptAt);

/// <summary>A word for a colour that only this shop knows.</summary>
public sealed record StoredColourWord(string Word, string Code);

/// <summary>What came of keeping or naming a mapping.</summary>
public enum MappingKept
{
    /// <summary>It is kept.</summary>
    Kept,

    /// <summary>Tables of another shape have this name.</summary>
    NameTaken,

    /// <summary>The shop keeps as many as it can.</summary>
    Full,

    /// <summary>There is none with this id.</summary>
    Missing,
}

/// <summary>What the shop has learned of strangers' papers.</summary>
public sealed class IntakeStore(NpgsqlDataSource source)
{
    public Task<List<StoredMapping>> MappingsAsync(CancellationToken cancel) =>
        new Sql(source, "select m.id, m.name, m.mapping::text, p.name, m.kept_at from intake_mappings m join people p on p.id = m.kept_by order by lower(m.name)")
            .ListAsync(row => new StoredMapping(row.GetInt64(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetFieldValue<DateTimeOffset>(4)), cancel);

    /// <summary>Keeps a mapping in place of the last for tables of this shape.</summary>
    /// <param name="shape">Fingerprint of the headings.</param>
    /// <param name="most">How many the shop keeps.</param>
    public async Task<MappingKept> KeepAsync(string shape, string name, string body, int most, Guid by, CancellationToken cancel)
    {
        try
        {
            return await new Sql(source, """
                insert into intake_mappings (shape, name, mapping, kept_by)
                select @shape, @name, @body, @by
                where (select count(*) from intake_mappings) < @most or exists (select from intake_mappings where shape = @shape)
                on conflict (shape) do update set name = excluded.name, mapping = excluded.mapping, kept_by = excluded.kept_by, kept_at = now()
                """)
                .With("shape", shape).With("name", name).WithJson("body", body).With("most", most).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1 ? MappingKept.Kept : MappingKept.Full;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return MappingKept.NameTaken;
        }
    }

    /// <summary>Forgets a mapping.</summary>
    /// <returns>False when there is none.</returns>
    public async Task<bool> ForgetAsync(long id, CancellationToken cancel) =>
        await new Sql(source, "delete from intake_mappings where id = @id").With("id", id).RunAsync(cancel).ConfigureAwait(false) == 1;

    public Task<List<StoredColourWord>> ColourWordsAsync(CancellationToken cancel) =>
        new Sql(source, "select word, code from colour_words order by word").ListAsync(row => new StoredColourWord(row.GetString(0), row.GetString(1)), cancel);

    /// <summary>Keeps what a word for a colour means.</summary>
    /// <returns>False when the shop keeps as many as it can.</returns>
    public async Task<bool> SayColourAsync(string word, string code, int most, Guid by, CancellationToken cancel) =>
        await new Sql(source, """
            insert into colour_words (word, code, said_by)
            select @word, @code, @by
            where (select count(*) from colour_words) < @most or exists (select from colour_words where word = @word)
            on conflict (word) do update set code = excluded.code, said_by = excluded.said_by, said_at = now()
            """)
            .With("word", word).With("code", code).With("most", most).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>Forgets what a word for a colour means.</summary>
    /// <returns>False when it was not known.</returns>
    public async Task<bool> ForgetColourAsync(string word, CancellationToken cancel) =>
        await new Sql(source, "delete from colour_words where word = @word").With("word", word).RunAsync(cancel).ConfigureAwait(false) == 1;
}
