using Npgsql;

namespace WiseLoom.Store;

/// <summary>A person of the shop.</summary>
/// <param name="Role"><c>technician</c> or <c>lead</c>.</param>
public sealed record Person(Guid Id, string SignIn, string Name, string Role, string PasswordHash);

/// <summary>Who may sign in.</summary>
public sealed class PeopleStore(NpgsqlDataSource source)
{
    public Task<Person?> BySignInAsync(string signIn, CancellationToken cancel) =>
        new Sql(source, "select id, sign_in, name, role, password_hash from people where sign_in = lower(@signIn)")
            .With("signIn", signIn).FirstAsync(Read, cancel);

    public Task<List<Person>> AllAsync(CancellationToken cancel) =>
        new Sql(source, "select id, sign_in, name, role, password_hash from people order by name").ListAsync(Read, cancel);

    /// <summary>Adds a person; nothing happens when the sign-in name is taken.</summary>
    public Task AddAsync(Person person, CancellationToken cancel) =>
        new Sql(source, "insert into people (id, sign_in, name, role, password_hash) values (@id, @signIn, @name, @role, @hash) on conflict do nothing")
            .With("id", person.Id).With("signIn", person.SignIn).With("name", person.Name).With("role", person.Role).With("hash", person.PasswordHash)
            .RunAsync(cancel);

    private static Person Read(NpgsqlDataReader row) => new(row.GetGuid(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetString(4));
}
