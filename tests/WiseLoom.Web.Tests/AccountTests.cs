using System.Net;
using System.Text.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Npgsql;

namespace WiseLoom.Web.Tests;

/// <summary>Access is given, changed and taken away, and the audit list tells of it.</summary>
public sealed class AccountTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static string Fresh() => $"p{Guid.NewGuid():n}";

    private static async Task<JsonElement> AccountAsync(Visitor lead, string signIn) =>
        (await lead.ReadAsync("/api/accounts")).EnumerateArray().Single(a => a.GetProperty("signIn").GetString() == signIn);

    private static async Task<HttpResponseMessage> ChangeAsync(Visitor lead, JsonElement account, string? role = null, bool disabled = false, int? version = null) => await lead.PutAsync(
        $"/api/accounts/{account.GetProperty("id").GetGuid()}",
        new { name = account.GetProperty("name").GetString(), role = role ?? account.GetProperty("role").GetString(), disabled },
        $"\"{version ?? account.GetProperty("version").GetInt32()}\"");

    private static async Task<string> CodeAsync(Visitor lead, string signIn) =>
        (await lead.PostForAsync("/api/accounts", new { signIn, name = "New", role = "technician" })).GetProperty("code").GetString()!;

    private static Task<HttpResponseMessage> UseAsync(Visitor stranger, string code, string password = Visitor.Password) => stranger.PostAsync("/api/password-links/use", new { code, password });

    [Fact]
    public async Task The_owner_sets_the_first_password_through_a_link_that_is_used_up_by_it()
    {
        var (lead, stranger, name) = (await shop.LeadAsync(), await shop.StrangerAsync(), Fresh());
        var code = await CodeAsync(lead, name);
        (await stranger.PostForAsync("/api/password-links/look", new { code })).GetProperty("signIn").GetString().ShouldBe(name);
        (await stranger.PostAsync("/api/session", new { signIn = name, password = "" })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized, "no password is no way in");
        (await AccountAsync(lead, name)).GetProperty("hasPassword").GetBoolean().ShouldBeFalse();

        (await UseAsync(stranger, code)).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await UseAsync(stranger, code)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        await stranger.SignInAsync(name, Visitor.Password);
        (await stranger.ReadAsync("/api/session")).GetProperty("person").GetProperty("role").GetString().ShouldBe("technician");
        var account = await AccountAsync(lead, name);
        (account.GetProperty("hasPassword").GetBoolean(), account.GetProperty("sessions").GetInt32(), account.GetProperty("linkExpires").ValueKind).ShouldBe((true, 1, JsonValueKind.Null));
    }

    [Fact]
    public async Task Of_two_who_use_a_link_at_once_one_sets_the_password()
    {
        var (lead, name) = (await shop.LeadAsync(), Fresh());
        var code = await CodeAsync(lead, name);
        var strangers = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => shop.StrangerAsync()));
        var answers = await Task.WhenAll(strangers.Select((s, i) => UseAsync(s, code, $"{Visitor.Password}-{i}")));
        answers.Count(a => a.StatusCode == HttpStatusCode.NoContent).ShouldBe(1);
        await strangers[0].SignInAsync(name, $"{Visitor.Password}-{Array.FindIndex(answers, a => a.StatusCode == HttpStatusCode.NoContent)}");
    }

    [Theory]
    [InlineData("short", "At least 10")]
    [InlineData("aaaaaaaaaaaaaaaa", "different")]
    [InlineData("x-{name}-x", "sign-in name")]
    [InlineData("{long}", "At most 200")]
    public async Task A_password_that_is_easily_found_is_refused_with_the_reason(string password, string reason)
    {
        var (lead, stranger, name) = (await shop.LeadAsync(), await shop.StrangerAsync(), Fresh());
        var code = await CodeAsync(lead, name);
        var answer = await UseAsync(stranger, code, password.Replace("{name}", name, StringComparison.Ordinal).Replace("{long}", string.Concat(Enumerable.Repeat("abcde", 41)), StringComparison.Ordinal));
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(reason);
        (await UseAsync(stranger, code)).StatusCode.ShouldBe(HttpStatusCode.NoContent, "the link is not used up by it");
    }

    [Fact]
    public async Task A_newer_link_time_and_disabling_close_a_link()
    {
        var (lead, stranger, name) = (await shop.LeadAsync(), await shop.StrangerAsync(), Fresh());
        var first = await CodeAsync(lead, name);
        var account = await AccountAsync(lead, name);
        var path = $"/api/accounts/{account.GetProperty("id").GetGuid()}/link";
        var second = (await lead.PostForAsync(path, new { })).GetProperty("code").GetString()!;
        (await UseAsync(stranger, first)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

        await shop.DoAsync($"update password_links set expires_at = now() - interval '1 second' where person_id = '{account.GetProperty("id").GetGuid()}' and closed_at is null");
        (await UseAsync(stranger, second)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

        var third = (await lead.PostForAsync(path, new { })).GetProperty("code").GetString()!;
        (await ChangeAsync(lead, await AccountAsync(lead, name), disabled: true)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await UseAsync(stranger, third)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await lead.PostAsync(path, new { })).StatusCode.ShouldBe(HttpStatusCode.NotFound, "who is disabled gets no link");
    }

    [Theory]
    [InlineData("/signIn", "Upper", "New", "look")]
    [InlineData("/signIn", "x", "New", "look")]
    [InlineData("/signIn", "with blank", "New", "look")]
    [InlineData("/signIn", "ada", "New", "look")]
    [InlineData("/name", "fine", "", "look")]
    [InlineData("/name", "fine", " New", "look")]
    [InlineData("/role", "fine", "New", "owner")]
    public async Task An_account_that_cannot_be_is_refused_with_its_place(string at, string signIn, string name, string role)
    {
        var answer = await (await shop.LeadAsync()).PostAsync("/api/accounts", new { signIn, name, role });
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain($"\"at\":\"{at}\"");
    }

    [Fact]
    public async Task Who_is_disabled_is_out_at_once_and_cannot_come_back_until_enabled()
    {
        var (lead, name) = (await shop.LeadAsync(), Fresh());
        var person = await shop.PersonAsync(name, "technician");
        (await ChangeAsync(lead, await AccountAsync(lead, name), disabled: true)).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await person.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        var refused = await (await shop.StrangerAsync()).PostAsync("/api/session", new { signIn = name, password = Visitor.Password });
        refused.StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await refused.Content.ReadAsStringAsync(Cancel)).ShouldContain("This account is disabled");

        (await lead.ReadAsync("/api/people")).EnumerateArray().Single(p => p.GetProperty("id").GetGuid() == person.Person).GetProperty("mayWork").GetBoolean().ShouldBeFalse("the name stays");
        (await lead.PostAsync("/api/jobs", new { customer = "a", machine = "b", promised = (string?)null, assignedId = person.Person, waitingFor = (string?)null })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        (await ChangeAsync(lead, await AccountAsync(lead, name))).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        await (await shop.StrangerAsync()).SignInAsync(name, Visitor.Password);
    }

    [Fact]
    public async Task A_role_that_is_taken_away_is_gone_for_who_is_signed_in()
    {
        var (lead, name) = (await shop.LeadAsync(), Fresh());
        var second = await shop.PersonAsync(name, "lead");
        (await second.GetAsync("/api/accounts")).StatusCode.ShouldBe(HttpStatusCode.OK);
        var stale = await AccountAsync(lead, name);

        (await ChangeAsync(lead, stale, "technician")).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await second.GetAsync("/api/accounts")).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await second.PutAsync("/api/limits", new { }, "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await second.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await ChangeAsync(lead, stale, "lead")).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed, "the account was looked at before the change");
        (await lead.PutAsync($"/api/accounts/{stale.GetProperty("id").GetGuid()}", new { name, role = "lead", disabled = false })).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);
    }

    [Fact]
    public async Task A_cookie_is_worth_nothing_after_signing_out_or_when_its_session_is_ended()
    {
        var name = Fresh();
        var first = await shop.PersonAsync(name, "technician");
        var second = await (await shop.StrangerAsync()).SignInAsync(name, Visitor.Password);
        var mine = (await first.ReadAsync("/api/me/sessions")).EnumerateArray().ToList();
        mine.Count.ShouldBe(2);
        var other = mine.Single(s => !s.GetProperty("here").GetBoolean()).GetProperty("id").GetGuid();

        (await (await shop.TechnicianAsync()).DeleteAsync($"/api/me/sessions/{other}")).StatusCode.ShouldBe(HttpStatusCode.NotFound, "of somebody else");
        (await first.DeleteAsync($"/api/me/sessions/{other}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await second.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await first.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.OK);

        // A copy of the cookie, kept by somebody else.
        var client = shop.CreateClient(new() { HandleCookies = false });
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/jobs");
        var (copy, visitor) = await shop.CopiedCookieAsync();
        request.Headers.Add("Cookie", copy);
        await visitor.DeleteAsync("/api/session");
        (await client.SendAsync(request, Cancel)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task A_changed_password_ends_every_other_session_and_the_old_one_must_be_known()
    {
        var name = Fresh();
        var first = await shop.PersonAsync(name, "look");
        var second = await (await shop.StrangerAsync()).SignInAsync(name, Visitor.Password);
        (await first.PutAsync("/api/me/password", new { old = "not-it-at-all", @new = "another-good-one" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await first.PutAsync("/api/me/password", new { old = Visitor.Password, @new = "short" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        (await first.PutAsync("/api/me/password", new { old = Visitor.Password, @new = "another-good-one" })).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await first.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await second.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await (await shop.StrangerAsync()).PostAsync("/api/session", new { signIn = name, password = Visitor.Password })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        await (await shop.StrangerAsync()).SignInAsync(name, "another-good-one");
    }

    [Fact]
    public async Task A_lead_ends_all_sessions_of_somebody()
    {
        var (lead, name) = (await shop.LeadAsync(), Fresh());
        var person = await shop.PersonAsync(name, "technician");
        var path = $"/api/accounts/{person.Person}/sessions";
        (await lead.ReadAsync(path)).GetArrayLength().ShouldBe(1);
        (await lead.DeleteAsync(path)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await person.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await lead.ReadAsync(path)).GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task The_audit_list_tells_of_sign_ins_refusals_and_changes_and_never_what_was_typed_for_a_name()
    {
        var (lead, name, stranger) = (await shop.LeadAsync(), Fresh(), await shop.StrangerAsync());
        var person = await shop.PersonAsync(name, "look");
        await stranger.PostAsync("/api/session", new { signIn = name, password = "wrong-one" });
        await stranger.PostAsync("/api/session", new { signIn = "perhaps-a-password", password = "x" });
        await person.PostAsync("/api/jobs", new { });
        await person.PostAsync("/api/jobs", new { });
        await ChangeAsync(lead, await AccountAsync(lead, name), "technician");

        var list = (await lead.ReadAsync("/api/audit")).GetProperty("lines").EnumerateArray().ToList();
        list.Select(l => l.ToString()).ShouldNotContain(l => l.Contains("perhaps-a-password", StringComparison.Ordinal) || l.Contains("wrong-one", StringComparison.Ordinal));
        list.Where(l => l.GetProperty("person").GetString()?.StartsWith(name, StringComparison.Ordinal) == true)
            .Select(l => $"{l.GetProperty("kind").GetString()} {l.GetProperty("words").GetString()}").Reverse().ShouldBe(
            [
                $"account-made {name} of the shop, {name}, look", "link-made open for 3 days", "password-set through the link", "signed-in ", "sign-in-refused wrong password",
                "right-refused POST /api/jobs", "account-changed role look → technician",
            ]);
    }

    [Theory]
    [InlineData(381)]
    [InlineData(382)]
    public async Task A_refusal_at_a_long_address_is_noted_as_far_as_there_is_room(int before)
    {
        var address = $"/api/families/{new string('a', before)}\U0001F9F5\U0001F9F5";
        (await (await shop.LookAsync()).PutAsync(Uri.EscapeDataString(address).Replace("%2F", "/", StringComparison.Ordinal), new { })).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await (await shop.LeadAsync()).ReadAsync("/api/audit")).GetProperty("lines").EnumerateArray()
            .ShouldContain(l => l.GetProperty("words").GetString()!.StartsWith($"PUT /api/families/{new string('a', before)}", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("delete from audit")]
    [InlineData("update audit set words = ''")]
    [InlineData("delete from people where sign_in = 'mira'")]
    public async Task What_is_in_it_stays_and_so_does_everybody(string sql)
    {
        await shop.TechnicianAsync();
        (await Should.ThrowAsync<PostgresException>(() => shop.DoAsync(sql))).SqlState.ShouldBe(PostgresErrorCodes.IntegrityConstraintViolation);
    }

    [Fact]
    public async Task Page_after_page_the_audit_list_is_read_once()
    {
        var lead = await shop.LeadAsync();
        await shop.DoAsync("insert into audit (at, kind, address, words) select now(), 'sign-in-refused', '', n::text from generate_series(1, 230) n");
        var (seen, before) = (new List<long>(), (long?)null);
        do
        {
            var page = await lead.ReadAsync($"/api/audit{(before is null ? "" : $"?before={before}")}");
            seen.AddRange(page.GetProperty("lines").EnumerateArray().Select(l => l.GetProperty("id").GetInt64()));
            before = page.GetProperty("before") is { ValueKind: JsonValueKind.Number } next ? next.GetInt64() : null;
        }
        while (before is not null && seen.Count < 1000);

        seen.ShouldBeUnique();
        seen.ShouldBe(seen.OrderDescending());
        seen.Count.ShouldBeGreaterThan(230);
    }

    [Fact]
    public async Task Without_the_example_world_its_people_stay_outside_and_the_first_lead_is_made_with_the_terminals_code()
    {
        await using var shown = await Shop.OpenAsync();
        await shown.LeadAsync();
        await using var hidden = shown.WithWebHostBuilder(b => b.UseSetting("WISELOOM_DEMO", ""));
        var stranger = await Visitor.AtAsync(hidden.CreateClient(new() { AllowAutoRedirect = false }));
        var refused = await stranger.PostAsync("/api/session", new { signIn = "ada", password = "nothing-left-open" });
        (refused.StatusCode, (await stranger.ReadAsync("/api/session")).GetProperty("demo").GetArrayLength()).ShouldBe((HttpStatusCode.Forbidden, 0));

        // A session from before holds no more.
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/jobs");
        request.Headers.Add("Cookie", (await shown.CopiedCookieAsync()).Cookie);
        (await hidden.CreateClient(new() { HandleCookies = false }).SendAsync(request, Cancel)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);

        (await stranger.ReadAsync("/api/session")).GetProperty("needsLead").GetBoolean().ShouldBeTrue();
        var code = ((WiseLoom.Web.People.FirstLead)hidden.Services.GetService(typeof(WiseLoom.Web.People.FirstLead))!).Code;
        var form = new { code = "AAAAA-AAAAA-AAAAA-AAAAA", signIn = "edda", name = "Edda Rowan", password = Visitor.Password };
        (await stranger.PostAsync("/api/first-lead", form)).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await stranger.PostAsync("/api/first-lead", form with { code = code, signIn = "ada" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, "the name is taken");
        (await stranger.PostAsync("/api/first-lead", form with { code = code, password = "edda" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(i => stranger.PostAsync("/api/first-lead", form with { code = code.ToLowerInvariant().Replace('-', ' '), signIn = $"edda{i}" })));
        answers.Count(a => a.StatusCode == HttpStatusCode.NoContent).ShouldBe(1);
        (await stranger.PostAsync("/api/first-lead", form with { code = code })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await stranger.ReadAsync("/api/session")).GetProperty("needsLead").GetBoolean().ShouldBeFalse();
        await stranger.SignInAsync($"edda{Array.FindIndex(answers, a => a.StatusCode == HttpStatusCode.NoContent)}", Visitor.Password);
        (await stranger.GetAsync("/api/accounts")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_stream_of_changes_ends_with_its_session_whichever_process_ended_it()
    {
        var (lead, name) = (await shop.LeadAsync(), Fresh());
        await shop.PersonAsync(name, "technician");
        var job = await (await shop.TechnicianAsync()).JobWithLoomAsync(ImportTests.Small);
        await using var beside = shop.WithWebHostBuilder(b => b.UseSetting("Logging:LogLevel:Default", "Error"));
        var client = beside.CreateClient(new() { AllowAutoRedirect = false });
        await (await Visitor.AtAsync(client)).SignInAsync(name, Visitor.Password);
        using var stream = new StreamReader(await client.GetStreamAsync(new Uri($"/api/jobs/{job}/events", UriKind.Relative), Cancel));
        (await stream.ReadLineAsync(Cancel)).ShouldNotBeNull("it has begun");

        (await ChangeAsync(lead, await AccountAsync(lead, name), disabled: true)).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await stream.ReadToEndAsync(Cancel)).ShouldNotContain("error");
        (await client.GetAsync(new Uri("/api/jobs", UriKind.Relative), Cancel)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }
}
