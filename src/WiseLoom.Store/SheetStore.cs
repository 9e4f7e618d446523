using System.Collections.Immutable;
using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Planning;

namespace WiseLoom.Store;

/// <summary>A sheet of the pinout book.</summary>
/// <param name="Source"><c>factory-drawing</c>, <c>supplier-sheet</c>, <c>traced</c> or <c>word-of-mouth</c>.</param>
public sealed record StoredSheet(long Id, Sheet Sheet, string Source, string SourceNote, int Version, string ChangedBy, DateTimeOffset ChangedAt);

/// <summary>Somebody vouches for a line.</summary>
/// <param name="How"><c>print</c>, <c>loom</c> or <c>running</c>.</param>
public sealed record Confirmation(string Connector, string Cavity, string Function, string How, string By, DateTimeOffset At);

/// <summary>A decision about a loose wire; the last for a cavity holds.</summary>
public sealed record LooseRow(string Connector, string Cavity, string Decision, string Label, double LengthMm, string Note, string By, DateTimeOffset At);

/// <summary>The pinout book.</summary>
public sealed class SheetStore(NpgsqlDataSource source)
{
    private const string Select = """
        select s.id, s.title, s.connectors::text, s.lines::text, s.source, s.source_note, s.version, p.name, s.changed_at
        from sheets s join people p on p.id = s.changed_by
        """;

    public Task<List<StoredSheet>> AllAsync(CancellationToken cancel) => new Sql(source, Select + " order by s.title, s.id").ListAsync(Read, cancel);

    public Task<StoredSheet?> FindAsync(long id, CancellationToken cancel) => new Sql(source, Select + " where s.id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<long> AddAsync(Sheet sheet, string sourceKind, string sourceNote, Guid by, CancellationToken cancel) =>
        Body(new(source, """
            insert into sheets (title, source, source_note, connectors, lines, made_by, changed_by)
            values (@title, @source, @note, @connectors, @lines, @by, @by) returning id
            """), sheet, sourceKind, sourceNote, by).ScalarAsync<long>(cancel);

    /// <summary>Changes a sheet when nobody else has since; what it said before stays among its versions.</summary>
    /// <returns>False when it is no longer at <paramref name="version"/>.</returns>
    public async Task<bool> ChangeAsync(long id, int version, Sheet sheet, string sourceKind, string sourceNote, Guid by, CancellationToken cancel) =>
        await Body(new(source, """
            with old as (select * from sheets where id = @id and version = @version for update),
                 kept as (insert into sheet_versions (sheet_id, version, title, source, source_note, connectors, lines, changed_by, changed_at)
                          select id, version, title, source, source_note, connectors, lines, changed_by, changed_at from old)
            update sheets s set title = @title, source = @source, source_note = @note, connectors = @connectors, lines = @lines,
                   version = s.version + 1, changed_by = @by, changed_at = now()
            from old where s.id = old.id
            """), sheet, sourceKind, sourceNote, by).With("id", id).With("version", version).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>All confirmations of a sheet, oldest first; those of lines that say something else now are among them.</summary>
    public Task<List<Confirmation>> ConfirmationsAsync(long sheetId, CancellationToken cancel) =>
        new Sql(source, """
            select c.connector, c.cavity, c.function, c.how, p.name, c.made_at
            from confirmations c join people p on p.id = c.made_by where c.sheet_id = @sheet order by c.event_order
            """).With("sheet", sheetId)
            .ListAsync(row => new Confirmation(row.GetString(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetString(4), row.GetFieldValue<DateTimeOffset>(5)), cancel);

    /// <summary>Vouches for a line; the same key twice changes nothing.</summary>
    public Task ConfirmAsync(long sheetId, Guid key, SheetLine line, string how, Guid by, CancellationToken cancel) =>
        new Sql(source, """
            insert into confirmations (key, sheet_id, connector, cavity, function, how, made_by)
            values (@key, @sheet, @connector, @cavity, @function, @how, @by) on conflict (key) do nothing
            """)
            .With("key", key).With("sheet", sheetId).With("connector", line.Connector).With("cavity", line.Cavity).With("function", line.Function).With("how", how).With("by", by)
            .RunAsync(cancel);

    /// <summary>Decisions about the loose wires of a plug that hold now.</summary>
    public Task<List<LooseRow>> LooseAsync(long sheetId, string connector, CancellationToken cancel) =>
        new Sql(source, """
            select distinct on (l.cavity) l.connector, l.cavity, l.decision, l.label, l.length_mm, l.note, p.name, l.made_at
            from loose_wires l join people p on p.id = l.made_by
            where l.sheet_id = @sheet and l.connector = @connector order by l.cavity, l.event_order desc
            """).With("sheet", sheetId).With("connector", connector)
            .ListAsync(row => new LooseRow(row.GetString(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetDouble(4), row.GetString(5), row.GetString(6), row.GetFieldValue<DateTimeOffset>(7)), cancel);

    /// <summary>Decides about a loose wire; the same key twice changes nothing.</summary>
    public Task DecideAsync(long sheetId, Guid key, string connector, string cavity, string decision, string label, double lengthMm, string note, Guid by, CancellationToken cancel) =>
        new Sql(source, """
            insert into loose_wires (key, sheet_id, connector, cavity, decision, label, length_mm, note, made_by)
            values (@key, @sheet, @connector, @cavity, @decision, @label, @length, @note, @by) on conflict (key) do nothing
            """)
            .With("key", key).With("sheet", sheetId).With("connector", connector).With("cavity", cavity).With("decision", decision)
            .With("label", label).With("length", lengthMm).With("note", note).With("by", by).RunAsync(cancel);

    private static Sql Body(Sql sql, Sheet sheet, string sourceKind, string sourceNote, Guid by) => sql
        .With("title", sheet.Title).With("source", sourceKind).With("note", sourceNote)
        .WithJson("connectors", JsonSerializer.Serialize(sheet.Connectors, CoreJson.Options))
        .WithJson("lines", JsonSerializer.Serialize(sheet.Lines, CoreJson.Options)).With("by", by);

    private static StoredSheet Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        new(
            row.GetString(1),
            JsonSerializer.Deserialize<ImmutableArray<SheetConnector>>(row.GetString(2), CoreJson.Options),
            JsonSerializer.Deserialize<ImmutableArray<SheetLine>>(row.GetString(3), CoreJson.Options)),
        row.GetString(4),
        row.GetString(5),
        row.GetInt32(6),
        row.GetString(7),
        row.GetFieldValue<DateTimeOffset>(8));
}
