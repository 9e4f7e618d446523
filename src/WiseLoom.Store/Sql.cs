using System.Runtime.CompilerServices;
using Npgsql;

namespace WiseLoom.Store;

/// <summary>One SQL statement with named parameters, run on a pooled connection or inside a transaction.</summary>
internal sealed class Sql : IAsyncDisposable
{
    private readonly NpgsqlCommand command;

    internal Sql(NpgsqlDataSource source, string text) => command = source.CreateCommand(text);

    internal Sql(NpgsqlTransaction transaction, string text) => command = new(text, transaction.Connection, transaction);

    internal Sql With<T>(string name, T value)
    {
        command.Parameters.Add(value is null ? new NpgsqlParameter(name, DBNull.Value) : new NpgsqlParameter<T>(name, value));
        return this;
    }

    /// <summary>A parameter that may be null and so needs its database type said.</summary>
    internal Sql With(string name, object? value, NpgsqlTypes.NpgsqlDbType type)
    {
        command.Parameters.Add(new NpgsqlParameter(name, type) { Value = value ?? DBNull.Value });
        return this;
    }

    internal Sql WithJson(string name, string json) => With(name, json, NpgsqlTypes.NpgsqlDbType.Jsonb);

    internal async Task<int> RunAsync(CancellationToken cancel)
    {
        await using (command.ConfigureAwait(false))
        {
            return await command.ExecuteNonQueryAsync(cancel).ConfigureAwait(false);
        }
    }

    internal async Task<T> ScalarAsync<T>(CancellationToken cancel)
    {
        await using (command.ConfigureAwait(false))
        {
            return (T)(await command.ExecuteScalarAsync(cancel).ConfigureAwait(false))!;
        }
    }

    internal async Task<List<T>> ListAsync<T>(Func<NpgsqlDataReader, T> read, CancellationToken cancel)
    {
        var rows = new List<T>();
        await foreach (var row in RowsAsync(read, cancel).ConfigureAwait(false))
        {
            rows.Add(row);
        }

        return rows;
    }

    internal async Task<T?> FirstAsync<T>(Func<NpgsqlDataReader, T> read, CancellationToken cancel)
        where T : class
    {
        await foreach (var row in RowsAsync(read, cancel).ConfigureAwait(false))
        {
            return row;
        }

        return null;
    }

    public ValueTask DisposeAsync() => command.DisposeAsync();

    private async IAsyncEnumerable<T> RowsAsync<T>(Func<NpgsqlDataReader, T> read, [EnumeratorCancellation] CancellationToken cancel)
    {
        await using (command.ConfigureAwait(false))
        {
            var reader = await command.ExecuteReaderAsync(cancel).ConfigureAwait(false);
            await using (reader.ConfigureAwait(false))
            {
                while (await reader.ReadAsync(cancel).ConfigureAwait(false))
                {
                    yield return read(reader);
                }
            }
        }
    }
}

/// <summary>Several statements that hold together or not at all.</summary>
internal static class Transactions
{
    /// <summary>Does work in one transaction.</summary>
    /// <param name="keep">Whether what the work came to is kept; otherwise all of it is undone.</param>
    internal static async Task<T> TogetherAsync<T>(this NpgsqlDataSource source, Func<NpgsqlTransaction, Task<T>> work, Func<T, bool> keep, CancellationToken cancel)
    {
        var connection = await source.OpenConnectionAsync(cancel).ConfigureAwait(false);
        await using (connection.ConfigureAwait(false))
        {
            var transaction = await connection.BeginTransactionAsync(cancel).ConfigureAwait(false);
            await using (transaction.ConfigureAwait(false))
            {
                var result = await work(transaction).ConfigureAwait(false);
                if (keep(result))
                {
                    await transaction.CommitAsync(cancel).ConfigureAwait(false);
                }

                return result;
            }
        }
    }

    /// <summary>Does work in one transaction, and keeps it.</summary>
    internal static Task TogetherAsync(this NpgsqlDataSource source, Func<NpgsqlTransaction, Task> work, CancellationToken cancel) =>
        source.TogetherAsync(
            async transaction =>
            {
                await work(transaction).ConfigureAwait(false);
                return true;
            },
            done => done,
            cancel);
}

/// <summary>Columns that may be null.</summary>
internal static class Columns
{
    internal static string? TextOrNull(this NpgsqlDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);

    internal static T? ValueOrNull<T>(this NpgsqlDataReader row, int column)
        where T : struct => row.IsDBNull(column) ? null : row.GetFieldValue<T>(column);
}

/// <summary>Texts that come from outside and are kept as far as there is room.</summary>
internal static class Room
{
    /// <summary>The beginning of a text; a character that does not fit whole is left out.</summary>
    internal static string Cut(this string text, int most) =>
        text.Length <= most ? text : text[..(char.IsHighSurrogate(text[most - 1]) ? most - 1 : most)];
}
