using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>A person of the shop.</summary>
/// <param name="Role">One of <see cref="Core.Shop.Role.All"/>.</param>
/// <param name="PasswordHash">Null until its owner has set a password.</param>
/// <param name="Demo">Of the example world: comes in only while that is shown.</param>
public sealed record Person(Guid Id, string SignIn, string Name, string Role, string? PasswordHash, bool Disabled = false, bool Demo = false, int Version = 1)
{
    /// <summary>Whether work can be given to this person.</summary>
    public bool MayWork => !Disabled && Role != Core.Shop.Role.Look;
}

/// <summary>The people of the shop.</summary>
public sealed class PeopleStore(NpgsqlDataSource source)
{
    internal const string Select = "select id, sign_in, name, role, password_hash, disabled, demo, version from people";

    public Task<Person?> BySignInAsync(string signIn, CancellationToken cancel) =>
        new Sql(source, Select + " where sign_in = lower(@signIn)").With("signIn", signIn).FirstAsync(Read, cancel);

    public Task<Person?> FindAsync(Guid id, CancellationToken cancel) => new Sql(source, Select + " where id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<List<Person>> AllAsync(CancellationToken cancel) => new Sql(source, Select + " order by name, id").ListAsync(Read, cancel);

    /// <summary>Adds a person; nothing happens when the sign-in name is taken.</summary>
    public Task AddAsync(Person person, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(person);
        return Adding(new Sql(source, Add), person).RunAsync(cancel);
    }

    /// <summary>Whether somebody can come in who may give access to others.</summary>
    /// <param name="demo">Whether the people of the example world come in.</param>
    public Task<bool> HasLeadAsync(bool demo, CancellationToken cancel) => HasLead(new Sql(source, AnyLead), demo).ScalarAsync<bool>(cancel);

    internal const string Add = """
        insert into people (id, sign_in, name, role, password_hash, disabled, demo) values (@id, @signIn, @name, @role, @hash, @disabled, @demo)
        on conflict (sign_in) do nothing
        """;

    internal const string AnyLead = "select exists (select from people where role = 'lead' and not disabled and password_hash is not null and (@demo or not demo))";

    internal static Sql HasLead(Sql anyLead, bool demo) => anyLead.With("demo", demo);

    internal static Sql Adding(Sql add, Person person) => add
        .With("id", person.Id).With("signIn", person.SignIn).With("name", person.Name).With("role", person.Role)
        .With("hash", person.PasswordHash, NpgsqlTypes.NpgsqlDbType.Text).With("disabled", person.Disabled).With("demo", person.Demo);

    internal static Person Read(NpgsqlDataReader row) => new(
        row.GetGuid(0), row.GetString(1), row.GetString(2), row.GetString(3), row.TextOrNull(4), row.GetBoolean(5), row.GetBoolean(6), row.GetInt32(7));
}
