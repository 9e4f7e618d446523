using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>A wire as the papers together have it.</summary>
internal sealed class PaperWire(PaperRow row, PaperEnd one, PaperEnd other)
{
    internal PaperEnd One { get; } = one;

    internal PaperEnd Other { get; } = other;

    internal PaperRow Row { get; set; } = row;

    internal string Id { get; set; } = row.Id;

    /// <summary>Ends of charts that said it: one that both charts say is sure.</summary>
    internal HashSet<PaperEnd> SaidBy { get; } = [];
}

/// <summary>Makes wires of what all tables of a file say: each wire once, splices where functions meet, contradictions with both places.</summary>
internal sealed class Assembler(List<IntakeProblem> problems, List<string> guessed)
{
    /// <summary>So many names are listed in a sentence.</summary>
    private const int Named = 8;

    private readonly List<PaperWire> wires = [];
    private readonly Dictionary<(PaperEnd, PaperEnd), PaperWire> charted = [];

    /// <summary>Splices by name.</summary>
    internal HashSet<string> Splices { get; } = new(StringComparer.Ordinal);

    /// <summary>Cavities that papers name and nothing is joined to.</summary>
    internal HashSet<PaperEnd> Alone { get; } = [];

    internal ImmutableArray<PaperWire> Join(IReadOnlyList<PaperRow> rows)
    {
        FindSplices(rows);
        foreach (var row in rows)
        {
            if (Whole(row.One) is { } one && Whole(row.Other) is { } other)
            {
                if (one == other)
                {
                    problems.Add(new(row.Sheet, row.Row, "", $"The wire begins and ends at {one}; a wire joins two places."));
                }
                else
                {
                    Add(row, one, other);
                }
            }
        }

        JoinFunctions(rows);
        Contradictions(rows);
        Numbers();
        return [.. wires];
    }

    private void Add(PaperRow row, PaperEnd one, PaperEnd other)
    {
        var key = Key(one, other);
        if (row.IsChart && charted.TryGetValue(key, out var before))
        {
            before.SaidBy.Add(one);
            before.Row = Merged(before.Row, row);
            return;
        }

        var wire = new PaperWire(row, one, other);
        wires.Add(wire);
        if (row.IsChart)
        {
            wire.SaidBy.Add(one);
            charted[key] = wire;
        }
    }

    /// <summary>Names without a pin are splices where they are named so, or where three wires or more meet; else single contacts.</summary>
    private void FindSplices(IReadOnlyList<PaperRow> rows)
    {
        var bare = rows.SelectMany(r => new[] { r.One, r.Other }).OfType<PaperEnd>().Where(e => e.Pin.Length == 0).GroupBy(e => e.Connector, StringComparer.Ordinal);
        var plugs = rows.SelectMany(r => new[] { r.One, r.Other }).OfType<PaperEnd>().Where(e => e.Pin.Length > 0).Select(e => e.Connector).ToHashSet(StringComparer.Ordinal);
        foreach (var name in bare)
        {
            if (!plugs.Contains(name.Key) && (EndForms.IsSplice(name.Key) || name.Count() > 2))
            {
                Splices.Add(name.Key);
            }
        }

        if (Splices.Count > 0)
        {
            guessed.Add($"Splices, since no pin is named: {Some(Splices)}.");
        }
    }

    private PaperEnd? Whole(PaperEnd? end) => end is { Pin.Length: 0 } bare && !Splices.Contains(bare.Connector) ? bare with { Pin = "1" } : end;

    /// <summary>Cavities with one function and nothing else that they go to are joined: two by a wire, more at a splice.</summary>
    private void JoinFunctions(IReadOnlyList<PaperRow> rows)
    {
        var joined = wires.SelectMany(w => new[] { w.One, w.Other }).ToHashSet();
        var open = rows.Where(r => (r.One is null) != (r.Other is null)).Select(r => (Row: r, End: (Whole(r.One) ?? Whole(r.Other))!.Value)).Where(r => !joined.Contains(r.End)).DistinctBy(r => r.End).ToList();
        var groups = open.Where(r => r.Row.Signal.Length > 0).GroupBy(r => Plain.Joined(r.Row.Signal), StringComparer.Ordinal).ToList();
        var number = 0;
        foreach (var group in groups.Where(g => g.Count() > 1))
        {
            var ends = group.ToList();
            if (ends is [var first, var second])
            {
                Add(Merged(first.Row, second.Row) with { IsChart = false, Id = first.Row.Id }, first.End, second.End);
                continue;
            }

            string name;
            do
            {
                name = string.Create(CultureInfo.InvariantCulture, $"SP{++number}");
            }
            while (!Splices.Add(name));
            guessed.Add($"{ends.Count} cavities have the function ‘{ends[0].Row.Signal}’ ({Some(ends.Select(e => $"{e.End}"))}): joined at a splice, {name}. Is that so?");
            foreach (var (row, end) in ends)
            {
                Add(row with { IsChart = false }, end, new(name, ""));
            }
        }

        var alone = groups.Where(g => g.Count() == 1).Select(g => g.First()).Concat(open.Where(r => r.Row.Signal.Length == 0)).ToList();
        Alone.UnionWith(alone.Select(a => a.End));
        AskAbout(alone.Where(a => a.Row.Signal.Length > 0).ToList());
        if (alone.Count > 0)
        {
            guessed.Add($"{alone.Count} {(alone.Count == 1 ? "cavity goes" : "cavities go")} nowhere, as far as the file says: {Some(alone.Select(a => $"{a.End}"))}.");
        }
    }

    /// <summary>Functions that differ by a letter or two may be one: that is asked, not done.</summary>
    private void AskAbout(List<(PaperRow Row, PaperEnd End)> alone)
    {
        foreach (var (a, i) in alone.Take(400).Select((a, i) => (a, i)))
        {
            foreach (var b in alone.Skip(i + 1).Take(400).Where(b => b.End.Connector != a.End.Connector))
            {
                if (IsNear(Plain.Joined(a.Row.Signal), Plain.Joined(b.Row.Signal)))
                {
                    problems.Add(new(b.Row.Sheet, b.Row.Row, "", $"Is ‘{b.Row.Signal}’ at {b.End} the same as ‘{a.Row.Signal}’ at {a.End} ({a.Row.Sheet} row {a.Row.Row})? Write both alike to join them."));
                }
            }
        }
    }

    /// <summary>Whether two functions are likely one: the same words with one cut short, or one slip of the pen in words that are no numbers.</summary>
    private static bool IsNear(string a, string b)
    {
        var (one, other) = (a.Split(' '), b.Split(' '));
        if (one.Length != other.Length)
        {
            return false;
        }

        var differ = one.Zip(other).Where(w => w.First != w.Second).ToList();
        return differ is [var (x, y)] && x.Length > 3 && y.Length > 3 && !x.Any(char.IsDigit) && !y.Any(char.IsDigit)
            && (x.StartsWith(y, StringComparison.Ordinal) || y.StartsWith(x, StringComparison.Ordinal) || EditDistance.Nearest(x, [y]) is not null);
    }

    private void Contradictions(IReadOnlyList<PaperRow> rows)
    {
        // A chart of the other connector that sends the same cavity elsewhere.
        var charts = rows.Where(r => r is { IsChart: true, One: not null, Other: not null }).ToLookup(r => Whole(r.One)!.Value);
        foreach (var wire in charted.Values.Where(w => w.SaidBy.Count == 1))
        {
            var far = wire.SaidBy.Contains(wire.One) ? wire.Other : wire.One;
            foreach (var row in charts[far].Where(r => Whole(r.Other) != wire.One && Whole(r.Other) != wire.Other).Take(1))
            {
                var near = far == wire.One ? wire.Other : wire.One;
                problems.Add(new(row.Sheet, row.Row, "", $"{far} goes to {row.Other} here, but {wire.Row.Sheet} row {wire.Row.Row} says that {near} goes to {far}. One of them is wrong."));
            }
        }

        foreach (var pin in rows.Where(r => r.Signal.Length > 0).SelectMany(r => new[] { (Row: r, End: Whole(r.One)), (Row: r, End: Whole(r.Other)) }).Where(x => x.End is { Pin.Length: > 0 }).GroupBy(x => x.End!.Value))
        {
            var first = pin.First();
            if (pin.FirstOrDefault(p => p.Row.Sheet == first.Row.Sheet && p.Row.IsChart && Plain.Joined(p.Row.Signal) != Plain.Joined(first.Row.Signal)) is { Row: { } other })
            {
                problems.Add(new(other.Sheet, other.Row, "", $"{pin.Key} is ‘{other.Signal}’ here and ‘{first.Row.Signal}’ in row {first.Row.Row}. A cavity has one function."));
            }
        }

        foreach (var pair in charted.Values.Where(w => w.Row.Note.Contains(Differs, StringComparison.Ordinal)))
        {
            var row = pair.Row;
            problems.Add(new(row.Sheet, row.Row, "", $"The wire from {pair.One} to {pair.Other} has two colours in the two charts; the first is taken."));
            pair.Row = row with { Note = row.Note.Replace(Differs, "", StringComparison.Ordinal) };
        }
    }

    private const string Differs = "\u0001";

    /// <summary>What two rows say of one wire: what the first leaves open the second fills.</summary>
    private static PaperRow Merged(PaperRow a, PaperRow b) => a with
    {
        Id = a.Id.Length > 0 ? a.Id : b.Id,
        Colour = a.Colour.Codes.IsEmpty ? b.Colour : a.Colour,
        Mm2 = a.Mm2 ?? b.Mm2,
        Awg = a.Awg ?? b.Awg,
        LengthMm = a.LengthMm ?? b.LengthMm,
        Signal = a.Signal.Length > 0 ? a.Signal : b.Signal,
        Twisted = a.Twisted.Length > 0 ? a.Twisted : b.Twisted,
        Role = a.Role.Length > 0 ? a.Role : b.Role,
        Note = $"{(a.Note.Length > 0 ? a.Note : b.Note)}{(!a.Colour.Codes.IsEmpty && !b.Colour.Codes.IsEmpty && a.Colour != b.Colour ? Differs : "")}",
    };

    /// <summary>Each wire its own number: the paper's, or the next that is free.</summary>
    private void Numbers()
    {
        var taken = new Dictionary<string, PaperWire>(StringComparer.Ordinal);
        foreach (var wire in wires.Where(w => w.Id.Length > 0))
        {
            if (!taken.TryAdd(wire.Id, wire))
            {
                var first = taken[wire.Id].Row;
                problems.Add(new(wire.Row.Sheet, wire.Row.Row, "", $"The wire {wire.Id} stands in {(first.Sheet == wire.Row.Sheet ? "" : $"{first.Sheet} ")}row {first.Row} too. This one is given another number."));
                wire.Id = "";
            }
        }

        var next = 0;
        foreach (var wire in wires.Where(w => w.Id.Length == 0))
        {
            do
            {
                wire.Id = string.Create(CultureInfo.InvariantCulture, $"W{++next}");
            }
            while (!taken.TryAdd(wire.Id, wire));
        }
    }

    internal static string Some(IEnumerable<string> names)
    {
        var all = names.Order(NaturalOrder.Comparer).ToList();
        return all.Count <= Named ? string.Join(", ", all) : $"{string.Join(", ", all.Take(Named - 1))} and {all.Count - Named + 1} more";
    }

    private static (PaperEnd, PaperEnd) Key(PaperEnd a, PaperEnd b) => string.CompareOrdinal($"{a}", $"{b}") < 0 ? (a, b) : (b, a);
}
