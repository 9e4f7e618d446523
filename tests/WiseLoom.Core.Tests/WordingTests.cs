using System.Globalization;
using System.IO.Compression;
using CsCheck;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;

namespace WiseLoom.Core.Tests;

/// <summary>Small things that are written one way and read another: cells, archives, sections, colours, names of revisions.</summary>
public sealed class WordingTests
{
    [Fact]
    public void No_cell_can_be_run_as_a_formula_and_each_is_read_back_as_it_was() => Gen.String[Gen.Char["=+-@\t\r\n'a1 "], 0, 6].Sample(text =>
    {
        var cell = FormulaGuard.Neutralise(text);
        FormulaGuard.Restore(cell).ShouldBe(text);
        "=+-@\t\r\n".ShouldNotContain(cell.Length == 0 ? 'x' : cell[0]);
    });

    [Fact]
    public void An_archive_is_known_by_its_first_bytes_and_gives_the_names_of_its_files()
    {
        var problems = new List<Problem>();
        var bytes = Zip(("wires.csv", 20), ("inner/notes.csv", 5));
        SafeZip.IsZip(bytes).ShouldBeTrue();
        SafeZip.IsZip("wire,from,to"u8).ShouldBeFalse();
        SafeZip.IsZip([]).ShouldBeFalse();
        SafeZip.Names(bytes, "set.zip", problems).ShouldBe(["wires.csv", "inner/notes.csv"]);
        problems.ShouldBeEmpty();
    }

    [Fact]
    public void An_archive_that_unpacks_to_too_much_is_refused_at_the_file_that_does_it() =>
        Refused(Zip(("small.csv", 10), ("bomb.csv", (int)SafeZip.MostUnpacked)), "set.zip, bomb.csv", "Unpacks to more than 64 MB");

    [Fact]
    public void An_archive_of_very_many_files_is_refused() =>
        Refused(Zip([.. Enumerable.Range(0, 401).Select(i => ($"{i}.csv", 1))]), "set.zip", "Holds 401 files; at most 400 are opened.");

    [Fact]
    public void A_damaged_archive_is_refused_wherever_it_is_cut() => Gen.Int[1, 40].Sample(off =>
    {
        var whole = Zip(("wires.csv", 3000));
        Refused(whole[..^off], "set.zip", "damaged");
    });

    [Theory]
    [InlineData(20, "AWG 20")]
    [InlineData(0, "AWG 0")]
    [InlineData(-1, "AWG 2/0")]
    [InlineData(-3, "AWG 4/0")]
    [InlineData(40, "AWG 40")]
    public void A_gauge_is_said_as_the_trade_does(int awg, string text) => Section.FromAwg(awg).ToString().ShouldBe(text);

    [Theory]
    [InlineData(0.5, "0.5 mm²")]
    [InlineData(0.35, "0.35 mm²")]
    [InlineData(16, "16 mm²")]
    [InlineData(0.1234, "0.123 mm²")]
    public void A_section_is_said_in_square_millimetres(double mm2, string text) => Section.FromMm2(mm2).ToString().ShouldBe(text);

    [Theory]
    [InlineData(0)]
    [InlineData(-1)]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    public void A_wire_has_some_copper(double mm2) => Should.Throw<ArgumentOutOfRangeException>(() => Section.FromMm2(mm2));

    [Theory]
    [InlineData(-4)]
    [InlineData(41)]
    public void A_gauge_that_nobody_makes_is_refused(int awg) => Should.Throw<ArgumentOutOfRangeException>(() => Section.FromAwg(awg));

    [Fact]
    public void Three_gauges_thinner_is_half_the_copper_and_six_is_half_the_diameter() => Gen.Int[-3, 34].Sample(awg =>
    {
        (Section.FromAwg(awg).Mm2 / Section.FromAwg(awg + 3).Mm2).ShouldBe(2, 0.01);
        (Section.FromAwg(awg).Mm2 / Section.FromAwg(awg + 6).Mm2).ShouldBe(4, 0.04);
    });

    [Fact]
    public void A_colour_is_read_back_as_it_is_written_and_has_a_stripe_and_a_word_for_each_code() =>
        Gen.Int[0, WireColour.AllCodes.Count() - 1].Array[1, 3].Sample(which =>
        {
            var codes = which.Select(i => WireColour.AllCodes.ElementAt(i)).ToList();
            WireColour.TryParse(string.Join('/', codes).ToLower(CultureInfo.InvariantCulture), out var colour, out _).ShouldBeTrue();
            colour.Text.ShouldBe(string.Join('/', codes));
            WireColour.TryParse(colour.Text, out var again, out _).ShouldBeTrue();
            again.ShouldBe(colour);
            again.GetHashCode().ShouldBe(colour.GetHashCode());
            colour.Stripes.Count().ShouldBe(codes.Count);
            colour.Spoken.Split(" with ").Length.ShouldBe(codes.Count);
        });

    [Theory]
    [InlineData("XX", "XX")]
    [InlineData("BU/", "")]
    [InlineData("BU/WH/RD/GN", "BU/WH/RD/GN")]
    [InlineData("blue", "BLUE")]
    [InlineData("BU-WH", "BU-WH")]
    public void What_is_no_colour_is_named(string text, string wrong)
    {
        WireColour.TryParse(text, out var colour, out var named).ShouldBeFalse();
        named.ShouldBe(wrong);
        colour.ShouldBe(WireColour.None);
    }

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("  ")]
    public void No_colour_is_a_colour_that_says_so(string? text)
    {
        WireColour.TryParse(text, out var colour, out _).ShouldBeTrue();
        colour.Spoken.ShouldBe("no colour given");
        colour.Stripes.ShouldBeEmpty();
    }

    [Fact]
    public void A_hundred_revisions_after_any_name_are_a_hundred_names() => Gen.OneOfConst("A", "Z", "9", "2b", "first", "", "AZ", "release-1").Sample(start =>
    {
        var taken = new HashSet<string> { start };
        for (var i = 0; i < 100; i++)
        {
            taken.Add(RevisionName.After(start, taken)).ShouldBeTrue();
        }
    });

    private static void Refused(byte[] bytes, string at, string words)
    {
        var problems = new List<Problem>();
        SafeZip.Names(bytes, "set.zip", problems).ShouldBeNull();
        problems.ShouldHaveSingleItem().ShouldSatisfyAllConditions(p => p.At.ShouldBe(at), p => p.Message.ShouldContain(words));
    }

    private static byte[] Zip(params (string Name, int Bytes)[] files)
    {
        var memory = new MemoryStream();
        using (var zip = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in files)
            {
                using var entry = zip.CreateEntry(name, CompressionLevel.Fastest).Open();
                entry.Write(new byte[bytes]);
            }
        }

        return memory.ToArray();
    }
}
