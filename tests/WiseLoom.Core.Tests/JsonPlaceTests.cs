using System.Text.Json;
using CsCheck;

namespace WiseLoom.Core.Tests;

/// <summary>Fields of a file as they are read: what is right comes out, what is wrong is named at its own place in words that say what would be right.</summary>
public sealed class JsonPlaceTests
{
    private static readonly Dictionary<string, int> Words = new() { ["one"] = 1, ["two"] = 2 };

    [Theory]
    [InlineData("""{"a":7}""", "This is a number; a text in quotation marks is needed.")]
    [InlineData("""{"a":true}""", "This is true or false; a text in quotation marks is needed.")]
    [InlineData("""{"a":[]}""", "This is a list; a text in quotation marks is needed.")]
    [InlineData("""{"a":{}}""", "This is an object; a text in quotation marks is needed.")]
    [InlineData("""{"a":""}""", "Empty. A text is needed here.")]
    [InlineData("""{"a":"a\u0007b"}""", "Holds a control character; write plain text.")]
    [InlineData("""{"a":"123456789012345678901"}""", "21 characters; at most 20 fit here.")]
    [InlineData("""{"a":null}""", "Missing. A text is needed here.")]
    [InlineData("""{}""", "Missing. A text is needed here.")]
    public void A_text_that_is_none(string json, string words) => Refused(json, p => p.Text("a", required: true, longest: 20), words);

    [Theory]
    [InlineData("""{"a":"ECU:1"}""")]
    [InlineData("""{"a":" ECU"}""")]
    [InlineData("""{"a":"ECU "}""")]
    [InlineData("""{"a":"EC\nU"}""")]
    public void A_name_has_no_colon_and_no_blank_around_it(string json) => Refused(json, p => p.Name("a"), "cannot be a name");

    [Theory]
    [InlineData("""{"a":"7"}""", "This is a text; a number mm is needed.")]
    [InlineData("""{"a":-1}""", "-1 mm cannot be; it lies between 0 and 10.")]
    [InlineData("""{"a":10.5}""", "10.5 mm cannot be; it lies between 0 and 10.")]
    [InlineData("""{"a":1e400}""", "1e400 mm cannot be; it lies between 0 and 10.")]
    [InlineData("""{"a":false}""", "This is true or false; a number mm is needed.")]
    [InlineData("""{}""", "Missing. A number mm is needed here.")]
    public void A_number_that_cannot_be(string json, string words) => Refused(json, p => p.Number("a", 0, 10, required: true, "mm"), words);

    [Theory]
    [InlineData("""{"a":"7"}""", "/a", "an object with min, nominal and max, is needed")]
    [InlineData("""{"a":-2}""", "/a", "-2 mΩ cannot be")]
    [InlineData("""{"a":{"min":1,"nominal":2}}""", "/a/max", "Missing. A number mΩ is needed here.")]
    [InlineData("""{"a":{"min":3,"nominal":2,"max":4}}""", "/a", "must rise in this order")]
    [InlineData("""{"a":{"min":1,"nominal":5,"max":4}}""", "/a", "must rise in this order")]
    [InlineData("""{"a":{"min":"x","nominal":5,"max":9}}""", "/a/min", "This is a text; a number mΩ is needed.")]
    public void A_range_that_cannot_be(string json, string at, string words) => Refused(json, p => p.Range("a", 1e-3, "mΩ"), words, at);

    [Theory]
    [InlineData("""{"a":"yes"}""", "This is a text; true or false is needed.")]
    [InlineData("""{"a":1}""", "This is a number; true or false is needed.")]
    public void A_flag_that_is_none(string json, string words) => Refused(json, p => p.Flag("a"), words);

    [Fact]
    public void A_word_that_is_not_known_is_answered_with_those_that_are() =>
        Refused("""{"a":"three"}""", p => p.Word("a", Words), "'three' is not known here; write one of one, two.");

    [Theory]
    [InlineData("""{"a":{}}""", "/a", "This is an object; a list in square brackets is needed.")]
    [InlineData("""{"a":[{},7]}""", "/a/1", "This is a number; an object in braces is needed.")]
    [InlineData("""{"a":[null]}""", "/a/0", "This is null; an object in braces is needed.")]
    public void A_list_of_objects_names_what_is_none(string json, string at, string words)
    {
        var problems = new List<Problem>();
        Place(json, problems).Objects("a").Count().ShouldBeLessThanOrEqualTo(1);
        problems.ShouldHaveSingleItem().ShouldSatisfyAllConditions(p => p.At.ShouldBe(at), p => p.Message.ShouldBe(words));
    }

    [Fact]
    public void What_is_right_comes_out_without_a_word()
    {
        var problems = new List<Problem>();
        var place = Place("""{"t":"line\nbreak","n":1e1,"r":5,"s":{"min":1,"nominal":2,"max":3},"f":false,"w":"two","nothing":null}""", problems);
        place.Text("t").ShouldBe("line\nbreak");
        place.Number("n", 0, 10).ShouldBe(10);
        place.Range("r", 1e-3, "mΩ").ShouldBe(OhmRange.Exactly(0.005));
        place.Range("s", 2, "Ω").ShouldBe(new OhmRange(2, 4, 6));
        place.Flag("f").ShouldBe(false);
        place.Word("w", Words).ShouldBe(2);
        place.Has("nothing").ShouldBeFalse();
        place.Text("nothing").ShouldBeNull();
        place.Number("absent", 0, 1).ShouldBeNull();
        place.Objects("absent").ShouldBeEmpty();
        problems.ShouldBeEmpty();
    }

    /// <summary>RFC 6901: a tilde is written ~0 and a slash ~1, so that every field has one place.</summary>
    [Fact]
    public void Places_of_strangely_named_fields_are_pointers_that_lead_back() => Gen.String[Gen.Char["a/~01 ü"], 1, 8].Sample(field =>
    {
        var problems = new List<Problem>();
        new JsonPlace(JsonSerializer.SerializeToElement(new Dictionary<string, int> { [field] = 1 }), "/wires/3", problems).Text(field);
        var last = problems.ShouldHaveSingleItem().At.Split('/')[3..].ShouldHaveSingleItem();
        last.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal).ShouldBe(field);
    });

    [Fact]
    public void Names_lie_as_far_apart_as_changes_are_needed() => Gen.Select(Gen.String[Gen.Char["ab1"], 0, 6], Gen.String[Gen.Char["ab1"], 0, 6], Gen.String[Gen.Char["ab1"], 0, 6])
        .Sample((a, b, c) =>
        {
            var far = EditDistance.Between(a, b);
            far.ShouldBe(EditDistance.Between(b, a));
            (far == 0).ShouldBe(a == b);
            far.ShouldBeInRange(Math.Abs(a.Length - b.Length), Math.Max(a.Length, b.Length));
            EditDistance.Between(a, c).ShouldBeLessThanOrEqualTo(far + EditDistance.Between(b, c));
        });

    private static void Refused(string json, Func<JsonPlace, object?> read, string words, string at = "/a")
    {
        var problems = new List<Problem>();
        read(Place(json, problems)).ShouldBeNull();
        problems.ShouldHaveSingleItem().ShouldSatisfyAllConditions(p => p.At.ShouldBe(at), p => p.Message.ShouldContain(words));
    }

    private static JsonPlace Place(string json, List<Problem> problems) => new(JsonDocument.Parse(json).RootElement, "", problems);
}
