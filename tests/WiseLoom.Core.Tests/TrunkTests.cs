using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Places along the trunk and its branches.</summary>
public sealed class TrunkTests
{
    [Fact]
    public void A_place_on_a_branch_of_a_branch_leaves_where_the_first_leaves()
    {
        var tree = new TrunkTree(Loom(("trunk", null, 0, 4000), ("box", "trunk", 1500, 600), ("lid", "box", 250, 200)));
        tree.LengthMm.ShouldBe(4000);
        tree.Place("trunk", 700).ShouldSatisfyAllConditions(p => p.TrunkMm.ShouldBe(700), p => p.OffTrunkMm.ShouldBe(0), p => p.Through.ShouldBeEmpty());
        tree.Place("lid", 100).ShouldSatisfyAllConditions(p => p.TrunkMm.ShouldBe(1500), p => p.OffTrunkMm.ShouldBe(350), p => p.Through.ShouldBe(["box", "lid"]));
        tree.Place(null, 10).TrunkMm.ShouldBe(0);
        tree.Place("nowhere", 10).TrunkMm.ShouldBe(0);
    }

    [Fact]
    public void Walking_meets_every_connector_once_and_the_controllers_first()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            var tree = new TrunkTree(loom);
            var (walk, controllers) = (tree.WalkingOrder(), tree.ControllerConnectors());
            walk.Select(c => c.Ref).ShouldBe(loom.Connectors.Select(c => c.Ref), ignoreOrder: true);
            walk.Take(controllers.Count).Select(c => c.Ref).ShouldBe(controllers, ignoreOrder: true);
        }
    }

    [Fact]
    public void Branches_that_lead_in_a_ring_are_a_problem_and_a_draft_with_them_is_still_drawn() => Gen.Int[0, 3].Array[4].Sample(parents =>
    {
        var json = Looms.Json("A:1-B:1");
        json["branches"] = new JsonArray([.. parents.Select((p, i) => (JsonNode)new JsonObject { ["id"] = $"b{i}", ["parent"] = p == i ? null : $"b{p}", ["atMm"] = 10, ["lengthMm"] = 100 })]);
        foreach (var (connector, i) in json["connectors"]!.AsArray().Select((c, i) => (c!, i)))
        {
            connector["branch"] = $"b{i}";
        }

        var bytes = Encoding.UTF8.GetBytes(json.ToJsonString());
        var rings = Enumerable.Range(0, 4).Any(i => !Ends(i, parents));
        var trunks = parents.Where((p, i) => p == i).Count();
        (LoomReader.Read(bytes).Problems.Length == 0).ShouldBe(!rings && trunks == 1, string.Join(' ', parents));
        var drawn = LoomReader.ReadDraft(bytes);
        drawn.Loom.ShouldNotBeNull();
        new TrunkTree(drawn.Loom).WalkingOrder().Length.ShouldBe(2);
    });

    private static bool Ends(int at, int[] parents)
    {
        for (var steps = 0; steps < 5; steps++)
        {
            if (parents[at] == at)
            {
                return true;
            }

            at = parents[at];
        }

        return false;
    }

    private static Loom Loom(params (string Id, string? Parent, double AtMm, double LengthMm)[] branches)
    {
        var json = Looms.Json("A:1-B:1");
        json["branches"] = new JsonArray([.. branches.Select(b => (JsonNode)new JsonObject { ["id"] = b.Id, ["parent"] = b.Parent, ["atMm"] = b.AtMm, ["lengthMm"] = b.LengthMm })]);
        return Looms.Read(json.ToJsonString()).Loom!;
    }
}
