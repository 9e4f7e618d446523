using System.Text.Json.Nodes;

namespace WiseLoom.Web.Tests.Gate;

/// <summary>A stored event, as it stands in its row.</summary>
/// <param name="Run">Place of its run among the job's, from 0.</param>
/// <param name="ByLead">Whether its person is a lead.</param>
internal sealed record RawEvent(int Run, long Number, bool ByLead, JsonNode Body)
{
    internal string Kind => Text("kind");

    internal string Text(string field) => Body[field]?.ToString() ?? "";

    internal IEnumerable<int> Numbers(string field) => Body[field] is JsonArray all ? all.Select(n => (int)n!) : [];

    internal bool IsAfter(RawEvent? other) => other is null || (Run, Number).CompareTo((other.Run, other.Number)) > 0;
}

/// <summary>A run of the job with its plan as it is stored.</summary>
internal sealed record RawRun(long Id, long Revision, JsonNode Plan);

/// <summary>What the shop asked for when a run was started.</summary>
/// <param name="School">Its rank: bench, test engine, vehicle.</param>
internal sealed record Asked(double MostSkipped, int[] Stages, int School);

/// <summary>
/// The gate once more, over the raw events and without the program's own code: every required thing has a proof newer than the last change that could touch
/// it, or a lead's reason. It is weaker than the gate in places, and never stronger: whenever a pack is signed, it holds.
/// </summary>
internal sealed class GateStatement(IReadOnlyList<RawRun> runs, IReadOnlyList<RawEvent> events, Asked asked, IReadOnlySet<string> feedsAndGrounds)
{
    private static readonly string[] Schools = ["bench", "test-engine", "vehicle"];

    private readonly int current = runs.Count - 1;

    /// <summary>What is signed and not proven; empty when the statement holds.</summary>
    internal IEnumerable<string> Broken() => [.. Steps(), .. Skips(), .. Failures(), .. Faults(), .. Checks(), .. Stages(), .. Locks()];

    private IEnumerable<RawEvent> Of(string kind) => events.Where(e => e.Kind == kind);

    private JsonNode Step(RawEvent e) => runs[e.Run].Plan["steps"]![(int)e.Body["step"]! - 1]!;

    private static string Pair(JsonNode step) => string.Join(' ', new[] { $"{step["black"]}", $"{step["red"]}" }.Order(StringComparer.Ordinal)) + $" {step["kind"]}";

    private static bool Counts(RawEvent reading) => reading.Text("bearing") == "stands";

    /// <summary>A lead's decision after an event, in its run or a later one.</summary>
    private bool Let(RawEvent after, Func<RawEvent, bool> on) => Of("accept").Any(a => a.ByLead && a.IsAfter(after) && on(a));

    private static bool IsOn(RawEvent accept, int step, params string[] names) => names.Contains(accept.Text("on")) && (!accept.Numbers("steps").Any() || accept.Numbers("steps").Contains(step));

    private IEnumerable<string> Steps()
    {
        foreach (var step in runs[current].Plan["steps"]!.AsArray().Select(s => (int)s!["number"]!))
        {
            var here = events.Where(e => e.Run == current).ToList();
            bool About(RawEvent e) => e.Kind is "reading" or "skip" or "carried" ? (int)e.Body["step"]! == step : e.Kind == "group" && e.Numbers("steps").Contains(step);
            var failed = here.LastOrDefault(e => e.Kind == "reading" && About(e) && Counts(e) && e.Text("verdict") == "fail");
            var touched = here.LastOrDefault(e => e.Kind == "fix" && e.Body["fix"]!["retests"]!.AsArray().Any(r => (int)r! == step));
            bool Newer(RawEvent e) => e.IsAfter(failed) && e.IsAfter(touched);
            var proof = here.Any(e => About(e) && Newer(e) && (e.Kind != "reading" || (e.Text("verdict") != "fail" && Counts(e))))
                || here.Any(e => e.Kind == "accept" && e.ByLead && Newer(e) && (failed ?? touched) is not null && IsOn(e, step, "failing", "retest"));
            if (!proof)
            {
                yield return $"step {step} has no proof after {failed?.Number ?? touched?.Number ?? 0}";
            }
        }
    }

    private IEnumerable<string> Skips()
    {
        var steps = runs[current].Plan["steps"]!.AsArray();
        var last = steps.Select((s, i) => (Step: s!, By: events.LastOrDefault(e => e.Run == current && (e.Kind is "reading" or "skip" or "carried") && (int)e.Body["step"]! == i + 1 && (e.Kind != "reading" || Counts(e))))).ToList();
        var skipped = last.Where(l => l.By?.Kind == "skip").ToList();
        var alone = skipped.Where(s => !s.By!.ByLead && !Let(s.By, a => a.Run == current && a.Text("on") == "skips")).ToList();
        bool Critical(JsonNode step) => feedsAndGrounds.Contains($"{step["black"]}") || feedsAndGrounds.Contains($"{step["red"]}");
        if (alone.Count > 0 && (skipped.Count > asked.MostSkipped * steps.Count || alone.Exists(s => Critical(s.Step))))
        {
            yield return $"{skipped.Count} of {steps.Count} steps skipped, {alone.Count} by a technician alone";
        }
    }

    /// <summary>What failed in a run that was set aside passes later, or a lead let it, or a fault's drawing was corrected by a newer revision.</summary>
    private IEnumerable<string> Failures()
    {
        foreach (var failed in Of("reading").Where(e => e.Run < current && Counts(e) && e.Text("verdict") == "fail"))
        {
            var step = (int)failed.Body["step"]!;
            var passes = events.Any(e => e.IsAfter(failed) && ((e.Kind == "reading" && Counts(e) && e.Text("verdict") != "fail" && Pair(Step(e)) == Pair(Step(failed)))
                || (e.Run == failed.Run && e.Kind == "carried" && (int)e.Body["step"]! == step)));
            var let = Let(failed, a => (a.Run > failed.Run && (a.Text("on").StartsWith($"earlier {runs[failed.Run].Id} step ", StringComparison.Ordinal) || a.Text("on").StartsWith("fault ", StringComparison.Ordinal))));
            var redrawn = Of("fix").Any(f => f.IsAfter(failed) && f.Run == failed.Run && f.Body["fix"]!["did"]!.ToString() == "drawing corrected") && runs[current].Revision != runs[failed.Run].Revision;
            if (!passes && !let && !redrawn && !IsJoinedSince(failed))
            {
                yield return $"step {step} of run {failed.Run}, set aside, failed and nothing passed since";
            }
        }
    }

    /// <summary>Whether one later run read, within limits, a way of pairs from one end of a continuity step to the other.</summary>
    private bool IsJoinedSince(RawEvent failed) => $"{Step(failed)["kind"]}" == "continuity" && Enumerable.Range(failed.Run + 1, current - failed.Run).Any(run =>
    {
        HashSet<string> reached = [$"{Step(failed)["black"]}"];
        var read = Of("reading").Where(e => e.Run == run && Counts(e) && e.Text("verdict") == "pass" && $"{Step(e)["kind"]}" == "continuity").Select(Step).ToList();
        while (read.Exists(s => reached.Contains($"{s["black"]}") != reached.Contains($"{s["red"]}")))
        {
            reached.UnionWith(read.Where(s => reached.Contains($"{s["black"]}") || reached.Contains($"{s["red"]}")).SelectMany(s => new[] { $"{s["black"]}", $"{s["red"]}" }).ToList());
        }

        return reached.Contains($"{Step(failed)["red"]}");
    });

    private IEnumerable<string> Faults()
    {
        foreach (var fault in Of("fault"))
        {
            var fixes = Of("fix").Where(f => f.IsAfter(fault) && (f.Run > fault.Run || (int)f.Body["fault"]! == (int)fault.Body["fault"]!)).ToList();
            var proven = fixes.Exists(f => Proves(fault, f));
            if (!proven && !Let(fault, a => a.Text("on").StartsWith("fault ", StringComparison.Ordinal) && (a.Run > fault.Run || a.Text("on") == $"fault {fault.Body["fault"]}")))
            {
                yield return $"fault {fault.Body["fault"]} of run {fault.Run} is not proven";
            }
        }
    }

    private bool Proves(RawEvent fault, RawEvent fix)
    {
        if (fix.Body["fix"]!["did"]!.ToString() == "drawing corrected")
        {
            return runs[current].Revision != runs[fix.Run].Revision;
        }

        var step = (int)fault.Body["step"]!;
        var checks = fault.Body["checks"]!.AsArray().Select(c => $"{c}");
        return (step == 0 || Of("reading").Any(e => e.IsAfter(fix) && Counts(e) && e.Text("verdict") == "pass" && Pair(Step(e)) == Pair(Step(fault))))
            && checks.All(c => Of("answer").Any(a => a.IsAfter(fix) && a.Text("check") == c && (bool)a.Body["passed"]!));
    }

    private IEnumerable<string> Checks()
    {
        foreach (var failed in Of("answer").Where(a => !(bool)a.Body["passed"]! && StageOf(a) is not null))
        {
            var (id, stage) = (failed.Text("check"), StageOf(failed));
            var passes = Of("answer").Any(a => a.IsAfter(failed) && a.Text("check") == id && (bool)a.Body["passed"]!);
            var let = Of("stage").Any(s => s.ByLead && s.Run == failed.Run && s.IsAfter(failed) && (int)s.Body["stage"]! == stage) && failed.Run == current;
            if (!passes && !let && !Let(failed, a => a.Text("on") == $"earlier {runs[failed.Run].Id} check {id}"))
            {
                yield return $"check ‘{id}’ of run {failed.Run} failed and nothing passed since";
            }
        }
    }

    private JsonNode? TermsAt(RawEvent e) => Of("power-up").LastOrDefault(p => p.Run == e.Run && e.IsAfter(p))?.Body["terms"];

    private int? StageOf(RawEvent answer) => TermsAt(answer)?["checks"]!.AsArray().Where(c => $"{c!["id"]}" == answer.Text("check")).Select(c => (int?)c!["stage"]).FirstOrDefault();

    private IEnumerable<string> Stages()
    {
        var begun = Of("power-up").Where(p => p.Run == current).ToList();
        if (begun.Count == 0)
        {
            if (asked.Stages.Length > 0)
            {
                yield return "the power-up that the shop asks for was not begun";
            }

            yield break;
        }

        var terms = begun[^1].Body["terms"]!;
        foreach (var stage in asked.Stages.Where(s => !IsDone(current, s, terms, null)))
        {
            yield return $"stage {stage}, which the shop asks for, has no proof and no lead’s reason";
        }

        if (asked.Stages.Length > 0 && Array.IndexOf(Schools, $"{terms["school"]}") < asked.School && !Let(begun[0], a => a.Run == current && a.Text("on") == $"school {terms["school"]}"))
        {
            yield return $"the power-up was done in the school ‘{terms["school"]}’ without a lead’s reason";
        }
    }

    /// <summary>Nothing is answered, and so nothing driven, in a stage before the stages before it have passed or a lead let them pass.</summary>
    private IEnumerable<string> Locks()
    {
        foreach (var answer in Of("answer").Where(a => StageOf(a) is not null))
        {
            var (terms, stage) = (TermsAt(answer)!, StageOf(answer)!.Value);
            var before = terms["checks"]!.AsArray().Select(c => (int)c!["stage"]!).Concat(terms["required"]!.AsArray().Select(r => (int)r!)).Where(s => s < stage).Distinct();
            foreach (var open in before.Where(s => !IsDone(answer.Run, s, terms, answer)))
            {
                yield return $"stage {stage} was worked at (event {answer.Number} of run {answer.Run}) while stage {open} was open";
            }
        }
    }

    private bool IsDone(int run, int stage, JsonNode terms, RawEvent? until)
    {
        bool IsBefore(RawEvent e) => e.Run == run && (until is null || until.IsAfter(e));
        if (Of("stage").Any(s => IsBefore(s) && s.ByLead && (int)s.Body["stage"]! == stage))
        {
            return true;
        }

        var checks = terms["checks"]!.AsArray().Where(c => (int)c!["stage"]! == stage).Select(c => $"{c!["id"]}").ToList();
        return checks.Count > 0
            ? checks.TrueForAll(c => Of("answer").Any(a => IsBefore(a) && a.Text("check") == c && (bool)a.Body["passed"]!))
            : terms["vacant"]!.AsArray().Any(v => (int)v! == stage) && !HadSomething(run, stage);
    }

    /// <summary>Whether a stage had something to look at on any bench that this drawing was on: what is fitted does not empty it.</summary>
    private bool HadSomething(int run, int stage) => Of("power-up").Any(p =>
        runs[p.Run].Revision == runs[run].Revision && p.Body["terms"]!["checks"]!.AsArray().Any(c => (int)c!["stage"]! == stage));
}
