using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>A place in the guide: a check with its answers, or an end.</summary>
/// <param name="Do">What to do; null at an end.</param>
/// <param name="Answers">What may come of it, each with where it leads.</param>
/// <param name="Causes">At an end: what is at fault, one of these where more than one cannot be told apart.</param>
/// <param name="Code">At an end where the shop is to be asked: what to tell them; null where the cause is named.</param>
public sealed record GuideNode(string? Do, ImmutableArray<GuideAnswer> Answers, ImmutableArray<Break> Causes, string? Code)
{
    /// <summary>The check that <see cref="Do"/> says; null at an end.</summary>
    internal GuideTest? Test { get; init; }
}

/// <summary>An answer and where it leads.</summary>
public sealed record GuideAnswer(string Answer, GuideNode Next);

/// <summary>Where the guide begins for one symptom.</summary>
public sealed record GuideStart(Symptom Symptom, GuideNode Begin);

/// <summary>How the guide did when it was played against the model.</summary>
/// <param name="Causes">How many breaks were played.</param>
/// <param name="Named">Share of them that an end named, alone or with at most two that no check of the guide tells apart.</param>
/// <param name="MeanChecks">Checks to an end, in the mean.</param>
public sealed record GuidePlay(int Causes, double Named, double MeanChecks);

/// <summary>A stand-alone guide from what is seen to its cause: at each place the check that tells most for the time it takes, at most seven to an end.</summary>
public sealed record FaultGuide(ImmutableArray<GuideStart> Starts)
{
    /// <summary>No way is longer.</summary>
    public const int MostChecks = 7;

    /// <summary>So many causes at an end still name one: they are on one way of metal, and are measured wire by wire.</summary>
    private const int MostAlike = 3;

    /// <summary>A cause that has this share is taken for sure.</summary>
    private const double Sure = 0.97;

    /// <summary>Works it out beforehand.</summary>
    public static FaultGuide Of(BreakEffects effects, SymptomTable table)
    {
        ArgumentNullException.ThrowIfNull(effects);
        ArgumentNullException.ThrowIfNull(table);
        var tests = new GuideTests(effects);
        var byBreak = effects.All.ToDictionary(e => e.Break.Id, StringComparer.Ordinal);
        var starts = new GuideStart[table.Symptoms.Length];
        Parallel.For(0, starts.Length, i =>
        {
            var symptom = table.Symptoms[i];
            BreakEffect[] suspects = [.. symptom.Suspects.Select(s => byBreak[s.Break.Id])];
            starts[i] = new(symptom, Grow(tests, suspects, [.. tests.For(suspects)], MostChecks));
        });
        var codes = 0;
        return new([.. starts.Select(s => s with { Begin = Coded(s.Begin, ref codes) })]);
    }

    /// <summary>Plays breaks against it: each begins at its own first symptom and answers every check as the loom with that break does.</summary>
    /// <param name="effects">What each break does.</param>
    /// <param name="count">How many are drawn, by how often each is met.</param>
    public GuidePlay Play(BreakEffects effects, int count, int seed)
    {
        ArgumentNullException.ThrowIfNull(effects);
        var byBreak = effects.All.ToDictionary(e => e.Break.Id, StringComparer.Ordinal);
        var all = Starts.SelectMany(s => s.Symptom.Suspects.Select(x => (Start: s, x.Break))).GroupBy(x => x.Break.Id, StringComparer.Ordinal).Select(g => g.First()).ToList();
        if (all.Count == 0)
        {
            return new(0, 0, 0);
        }

        var random = new Random(seed);
        var weights = all.Sum(a => a.Break.Weight);
        var (named, checks) = (0, 0);
        for (var i = 0; i < count; i++)
        {
            var at = random.NextDouble() * weights;
            var drawn = all.First(a => (at -= a.Break.Weight) <= 0 || a == all[^1]);
            var (end, length) = Walk(drawn.Start.Begin, byBreak[drawn.Break.Id]);
            checks += length;
            named += end is not null && end.Causes.Length <= MostAlike && end.Causes.Any(c => c.Id == drawn.Break.Id) ? 1 : 0;
        }

        return new(count, (double)named / count, (double)checks / count);
    }

    /// <summary>From a beginning to its end; none where an answer is not foreseen.</summary>
    private static (GuideNode? End, int Checks) Walk(GuideNode begin, BreakEffect effect)
    {
        var (node, checks) = ((GuideNode?)begin, 0);
        while (node?.Test is { } test)
        {
            var answer = test.Answers(effect);
            node = node.Answers.FirstOrDefault(a => a.Answer == answer)?.Next;
            checks++;
        }

        return (node, checks);
    }

    private static GuideNode Grow(GuideTests tests, BreakEffect[] suspects, ImmutableArray<GuideTest> known, int left)
    {
        var weights = suspects.Sum(s => s.Break.Weight);
        if (suspects.Length == 1 || left == 0 || suspects.Max(s => s.Break.Weight) >= Sure * weights)
        {
            return End(suspects);
        }

        var (best, most, parts) = ((GuideTest?)null, 0.0, (List<IGrouping<string, BreakEffect>>)[]);
        foreach (var test in known.Concat(tests.For(suspects).Where(t => known.All(k => k.Do != t.Do))))
        {
            var groups = suspects.GroupBy(test.Answers).ToList();
            if (groups.Count < 2)
            {
                continue;
            }

            var bits = groups.Select(g => g.Sum(s => s.Break.Weight) / weights).Sum(p => -p * Math.Log2(p));
            // A minute for picking up tools and going there belongs to every check.
            var worth = bits / (1 + test.Minutes);
            if (worth > most + 1e-12)
            {
                (best, most, parts) = (test, worth, groups);
            }
        }

        return best is null ? End(suspects)
            : new(best.Do, [.. parts.OrderByDescending(g => g.Sum(s => s.Break.Weight)).Select(g => new GuideAnswer(g.Key, Grow(tests, [.. g], known, left - 1)))], [], null) { Test = best };
    }

    private static GuideNode End(BreakEffect[] suspects) => new(null, [], [.. suspects.OrderByDescending(s => s.Break.Weight).Select(s => s.Break)], suspects.Length > MostAlike ? "" : null);

    /// <summary>Gives each end that asks for the shop a code of its own.</summary>
    private static GuideNode Coded(GuideNode node, ref int codes)
    {
        if (node.Do is null)
        {
            return node.Code is null ? node : node with { Code = string.Create(CultureInfo.InvariantCulture, $"K{++codes}") };
        }

        var answers = ImmutableArray.CreateBuilder<GuideAnswer>();
        foreach (var answer in node.Answers)
        {
            answers.Add(answer with { Next = Coded(answer.Next, ref codes) });
        }

        return node with { Answers = answers.ToImmutable() };
    }
}
