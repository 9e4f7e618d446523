using Npgsql;

namespace WiseLoom.Store;

/// <summary>Tells everybody who looks at a job that something of it is otherwise, once the transaction is through.</summary>
internal static class JobNews
{
    internal static Task TellAsync(NpgsqlTransaction transaction, long job, CancellationToken cancel) =>
        new Sql(transaction, $"select pg_notify('{Database.JobChannel}', @job::text)").With("job", job).RunAsync(cancel);
}
