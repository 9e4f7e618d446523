using Npgsql;

namespace WiseLoom.Store;

/// <summary>What changes which loom, run or pack is a job's newest happens one at a time for each job. The lock is its row, and ends with the transaction.</summary>
internal static class JobLock
{
    internal static Task TakeAsync(NpgsqlTransaction transaction, long jobId, CancellationToken cancel) =>
        new Sql(transaction, "select id from jobs where id = @job for no key update").With("job", jobId).RunAsync(cancel);
}
