using WiseLoom.Core.Shop;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>Access that several people change at the same moment.</summary>
public sealed class AccountStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static readonly DateTimeOffset Now = new(2031, 3, 1, 12, 0, 0, TimeSpan.Zero);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private AccountStore Accounts => new(shelf.Source);

    private PeopleStore People => new(shelf.Source);

    private SessionStore Sessions => new(shelf.Source);

    private static AccountHand By(Guid who, bool demo = false) => new(who, "10.0.0.7", Now, demo);

    private async Task<Person> AddAsync(string role, bool demo = false)
    {
        var person = new Person(Guid.CreateVersion7(), $"p{Guid.NewGuid():n}", "Edda Rowan", role, "hash", Demo: demo);
        await People.AddAsync(person, Cancel);
        return person;
    }

    [Fact]
    public async Task However_two_leads_take_each_others_role_one_lead_is_left()
    {
        for (var round = 0; round < 12; round++)
        {
            var leads = new[] { await AddAsync(Role.Lead), await AddAsync(Role.Lead) };
            var changes = await Task.WhenAll(
                Accounts.ChangeAsync(leads[1] with { Role = Role.Technician }, By(leads[0].Id), Cancel),
                Accounts.ChangeAsync(leads[0] with { Disabled = true }, By(leads[1].Id), Cancel));

            changes.Order().ShouldBe([AccountChange.Done, AccountChange.NotALead]);
            (await People.FindAsync(leads[0].Id, Cancel))!.Disabled.ShouldBe(changes[1] == AccountChange.Done);
        }
    }

    [Fact]
    public async Task The_only_lead_who_can_come_in_cannot_step_down()
    {
        await using var alone = new Shelf();
        await alone.InitializeAsync();
        var (accounts, people) = (new AccountStore(alone.Source), new PeopleStore(alone.Source));
        var ada = (await people.FindAsync(alone.Ada.Id, Cancel))!;
        foreach (var to in new[] { ada with { Role = Role.Look }, ada with { Disabled = true } })
        {
            (await accounts.ChangeAsync(to, By(ada.Id), Cancel)).ShouldBe(AccountChange.LastLead);
        }

        // Neither one without a password nor one of an example world that is not shown is another one.
        (await accounts.AddAsync(new(Guid.CreateVersion7(), "edda", "Edda", Role.Lead, null), new byte[32], By(ada.Id), Cancel)).ShouldBe(AccountChange.Done);
        await people.AddAsync(new(Guid.CreateVersion7(), "demo", "Demo", Role.Lead, "x", Demo: true), Cancel);
        (await accounts.ChangeAsync(ada with { Role = Role.Look }, By(ada.Id), Cancel)).ShouldBe(AccountChange.LastLead);
        (await people.FindAsync(ada.Id, Cancel)).ShouldBe(ada, "nothing of it was kept");
        (await accounts.ChangeAsync(ada with { Role = Role.Look }, By(ada.Id, demo: true), Cancel)).ShouldBe(AccountChange.Done);
    }

    [Fact]
    public async Task A_session_that_begins_while_its_account_is_disabled_is_none()
    {
        for (var round = 0; round < 12; round++)
        {
            var (lead, person) = (await AddAsync(Role.Lead), await AddAsync(Role.Technician));
            var begin = Sessions.BeginAsync(person, "10.0.0.7", "browser", Now, Cancel);
            var disable = Accounts.ChangeAsync(person with { Disabled = true }, By(lead.Id), Cancel);
            await Task.WhenAll(begin, disable);
            (await disable).ShouldBe(AccountChange.Done);
            if (await begin is { } session)
            {
                (await Sessions.HolderAsync(session, Now, Cancel)).ShouldBeNull();
            }

            (await Sessions.OfAsync(person.Id, Now, Cancel)).ShouldBeEmpty();
            (await Sessions.BeginAsync(person, "10.0.0.7", "browser", Now, Cancel)).ShouldBeNull();
        }
    }

    [Fact]
    public async Task A_session_holds_while_it_is_used_and_ends_when_it_is_not()
    {
        var person = await AddAsync(Role.Look);
        var id = (await Sessions.BeginAsync(person, new string('a', 90), new string('b', 900), Now, Cancel)).ShouldNotBeNull();
        var (at, idle) = (Now, AccountRules.SessionIdle);
        for (var i = 0; i < 4; i++)
        {
            at += idle - TimeSpan.FromMinutes(1);
            (await Sessions.HolderAsync(id, at, Cancel)).ShouldBe(person);
        }

        (await Sessions.OfAsync(person.Id, at, Cancel)).Single().SeenAt.ShouldBe(at);
        (await Sessions.HolderAsync(id, at + idle, Cancel)).ShouldBeNull();
        (await Sessions.OfAsync(person.Id, at + idle, Cancel)).ShouldBeEmpty();
        (await Sessions.HolderAsync(Guid.NewGuid(), at, Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task A_password_that_was_changed_meanwhile_is_not_changed_again_nor_let_in()
    {
        var person = await AddAsync(Role.Technician);
        var mine = (await Sessions.BeginAsync(person, "", "", Now, Cancel)).ShouldNotBeNull();
        var changes = await Task.WhenAll(Enumerable.Range(0, 6).Select(i => Accounts.PasswordAsync(person, $"hash {i}", mine, By(person.Id), Cancel)));

        changes.Count(done => done).ShouldBe(1);
        (await People.FindAsync(person.Id, Cancel))!.PasswordHash.ShouldBe($"hash {Array.IndexOf(changes, true)}");
        (await Sessions.BeginAsync(person, "", "", Now, Cancel)).ShouldBeNull("the old password was looked at");
        (await Sessions.HolderAsync(mine, Now, Cancel)).ShouldNotBeNull();
    }
}
