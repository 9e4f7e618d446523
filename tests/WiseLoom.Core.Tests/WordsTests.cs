using System.Globalization;
using System.Text.RegularExpressions;
using AngleSharp;
using AngleSharp.Dom;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Papers for customers in another language: all of their own texts, and nothing of what people wrote.</summary>
public sealed partial class WordsTests
{
    /// <summary>Words that no text of the papers has in German, and that no name of the nonsense loom has.</summary>
    [GeneratedRegex(@"\b(the|and|is|are|not|with|from|which|of|to|by|at|it|for|plug|wire|key|feed|ground|nothing|check|fuse|battery)\b", RegexOptions.IgnoreCase)]
    private static partial Regex English();

    /// <summary>The demo's looms with every text of a person made of letters that mean nothing in any language.</summary>
    private static Loom Nonsense(Loom loom)
    {
        var n = 0;
        string Name() => string.Create(CultureInfo.InvariantCulture, $"Qx{++n}z");
        string? Some(string? text) => text is null ? null : Name();
        return loom with
        {
            Name = Name(),
            Families = [.. loom.Families.Select(f => f with { Title = Name() })],
            Landmarks = [.. loom.Landmarks.Select(l => l with { Id = Name() })],
            Connectors = [.. loom.Connectors.Select(c => c with { Title = Name(), Family = c.Family with { Title = "Qx" + c.Family.Id.Replace("-", "", StringComparison.Ordinal) }, Place = Some(c.Place), Unlock = Some(c.Unlock), IfLeftOff = Some(c.IfLeftOff), Note = Some(c.Note) })],
            Wires = [.. loom.Wires.Select(w => w with { Circuit = Some(w.Circuit) })],
            Devices = [.. loom.Devices.Select(d => d with { Title = Name(), Needs = Some(d.Needs), SeenAs = Some(d.SeenAs) })],
            Box = [.. loom.Box.Select(b => b with { Title = Name(), Note = Some(b.Note) })],
            Fitting = [.. loom.Fitting.Select(f => f with { Do = Name() })],
            CodeReadings = [.. loom.CodeReadings.Select(c => c with { How = Name() })],
        };
    }

    [Theory]
    [InlineData("frost-fan.json")]
    [InlineData("work-launch.json")]
    public async Task A_pack_in_german_has_no_english_but_what_was_recorded(string file)
    {
        var loom = Nonsense(Looms.Demo(file));
        var page = await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(German(loom)), TestContext.Current.CancellationToken);
        page.DocumentElement.GetAttribute("lang").ShouldBe("de");
        foreach (var recorded in page.QuerySelectorAll("style, script, [lang=en]"))
        {
            recorded.Remove();
        }

        // Names of outputs, conditions and channels are the file's own.
        static string Plain(string text) => Regex.Replace(text, "„[^“]*“|\\([^)]*\\)|ECU[-A-Z]*:\\S+ \\w+|(?:B-|FUSE|KEY|PUMP|BAT)\\S*", "");
        var said = page.Body!.Descendants().OfType<IText>().Select(t => t.Text.Trim())
            .Concat(page.QuerySelectorAll("*").SelectMany(e => e.Attributes).Where(a => a.Name is "aria-label" or "title" or "data-l" or "data-words").Select(a => a.Value));
        said.Where(t => English().IsMatch(Plain(t))).Distinct().ShouldBeEmpty();
        page.QuerySelectorAll("td").Select(c => c.TextContent).Where(t => Regex.IsMatch(t, @"\d\.\d+\s?(V|Ω|A|mm²)")).ShouldBeEmpty("figures have a comma");
    }

    [Fact]
    public void Every_text_has_the_same_places_in_each_language()
    {
        static string Shape(string text) => $"{string.Join(' ', Regex.Matches(text, @"\{\d").Select(m => m.Value).Order())} {text.EndsWith(' ')}";
        foreach (var (english, other) in Language.All.SelectMany(l => l.Known))
        {
            other.ShouldNotBeEmpty();
            Shape(other).ShouldBe(Shape(english), english);
        }
    }

    [Fact]
    public async Task A_language_is_spoken_only_as_long_as_it_is_asked_for_and_by_nobody_else()
    {
        Words.Language.ShouldBe(Language.English);
        using (Words.In(Language.German))
        {
            Say.Volts(12.61).ShouldBe("12,6 V");
            (await Task.Run(() => Say.Ohms(1240), TestContext.Current.CancellationToken)).ShouldBe("1,24 kΩ");
            Words.And(["A", "B", "C"]).ShouldBe("A, B und C");
            using (Words.In(Language.English))
            {
                Say.Volts(12.61).ShouldBe("12.6 V");
            }

            Words.Text("a text that nobody knows").ShouldBe("a text that nobody knows");
        }

        Say.Volts(12.61).ShouldBe("12.6 V");
        (Words.And([]), Words.And(["A"]), Words.And(["A", "B"])).ShouldBe(("", "A", "A and B"));
        Language.Of("xx").ShouldBe(Language.English);
        Language.Of(null).ShouldBe(Language.English);
    }

    [Fact]
    public void What_was_said_in_one_language_does_not_stay_in_the_next()
    {
        var loom = Looms.WorkLaunch;
        var before = Known.Papers(loom)!;
        German(loom).ShouldContain("Der Anlasser tut nichts");
        var after = PackPapers.Of(loom, 20, TestContext.Current.CancellationToken)!;
        after.Symptoms.Select(s => s.Title).ShouldBe(before.Symptoms.Select(s => s.Title));
        after.Shows.ShouldBe(before.Shows);
    }

    private static string German(Loom loom)
    {
        PackPapers? papers;
        using (Words.In(Language.German))
        {
            papers = PackPapers.Of(loom, 20, TestContext.Current.CancellationToken);
        }

        var bench = new Bench(loom, Bench.Plan(loom, Planning.Isolation.Neighbours) with { PairsMissed = 3, UnseenDiodes = ["Qd"] }).All(Electrical.Verdict.Pass);
        var head = new PackHead(7, "Qx", "Qy", loom.Name, loom.Revision, 2, "", "Qz", new(2026, 5, 4, 9, 30, 0, TimeSpan.Zero), "Qm") { Language = "de" };
        var pack = PackModel.Of(head, bench.Run, bench.Record(), papers) with
        {
            Questions = [new("Qq?", ["Qa", "Qb"], null), new("Qr?", [], "Qs (Qt)")],
            Changes = ["Wire W1 is gone."],
            BoxPhotos = ["AAAA"],
        };
        return PackHtml.Render(pack, loom);
    }
}
