using System.Text;
using CsCheck;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Json;

namespace WiseLoom.Core.Tests;

public sealed class JsonSizeTests
{
    private static byte[] List(int entries, string entry, string around = "{\"wires\":[#]}") => Encoding.UTF8.GetBytes(around.Replace("#", string.Join(',', Enumerable.Repeat(entry, entries)), StringComparison.Ordinal));

    [Theory]
    [InlineData(50_000, "{}", null)]
    [InlineData(50_001, "{}", "A list has more than 50,000 entries")]
    [InlineData(50_001, "null", "A list has more than 50,000 entries")]
    [InlineData(49_000, "[1,2,3,4,5,6,7,8,9,0,1,2,3,4,5,6,7,8,9,0,1,2,3,4,5,6,7,8,9,0]", "Holds more than 1,500,000 values")]
    [InlineData(49_000, "{\"a\":1,\"b\":[2]}", null)]
    public void Lists_and_values_without_end_are_told_before_a_tree_is_made(int entries, string entry, string? says)
    {
        var problem = JsonSize.TooMuch(List(entries, entry));
        (says is null ? problem is null : problem!.Message.StartsWith(says, StringComparison.Ordinal)).ShouldBeTrue(problem?.Message);
    }

    [Fact]
    public void Entries_are_counted_list_by_list() =>
        JsonSize.TooMuch(Encoding.UTF8.GetBytes($"[{string.Join(',', Enumerable.Repeat($"[{string.Join(',', Enumerable.Repeat("1", 30_000))}]", 3))}]")).ShouldBeNull();

    [Fact]
    public void What_is_no_json_is_left_to_its_reader() => Gen.Byte.Array[0, 200].Sample(bytes =>
    {
        JsonSize.TooMuch(bytes).ShouldBeNull();
        JsonSize.TooMuch([.. "{\"wires\":["u8, .. bytes]).ShouldBeNull();
    });

    [Fact]
    public void A_file_of_empty_entries_is_one_problem_and_no_document()
    {
        var reading = LoomImport.Read(List(60_000, "{}", "{\"format\":\"wise-loom/loom\",\"version\":1,\"wires\":[#]}"), "a.json", null);
        reading.Document.ShouldBeNull();
        reading.Problems.ShouldHaveSingleItem().Message.ShouldStartWith("A list has more than 50,000 entries");
    }
}
