using System.Globalization;

namespace WiseLoom.Web.Tests.Gate;

/// <summary>Whatever a technician and a lead do with a job: when a pack is signed, each required thing has a proof newer than the last change that could touch it, or a lead's reason.</summary>
public sealed class GateWalkTests(GateWalkTests.PaperlessShop own) : IClassFixture<GateWalkTests.PaperlessShop>
{
    /// <summary>Walks and actions of each; <c>WISELOOM_GATE_WALKS</c> asks for more.</summary>
    private static readonly int Walks = int.TryParse(Environment.GetEnvironmentVariable("WISELOOM_GATE_WALKS"), NumberStyles.None, CultureInfo.InvariantCulture, out var asked) ? asked : Shop.Effort(10, 300);

    private const int Actions = 30;

    /// <remarks>Long: some 700 actions of two people, each a request or several, and a statement over all stored events after each
    /// signature.</remarks>
    [Fact]
    public async Task Nothing_is_signed_without_a_proof_or_a_leads_reason()
    {
        var (technician, lead) = (await own.Shop.TechnicianAsync(), await own.Shop.LeadAsync());
        var seed = int.Parse(Environment.GetEnvironmentVariable("WISELOOM_GATE_SEED") ?? "1", CultureInfo.InvariantCulture);
        var (signed, routes) = (0, new HashSet<string>(StringComparer.Ordinal));
        for (var i = 0; i < Walks; i++)
        {
            var walk = await GateWalk.BeginAsync(own.Shop, technician, lead, seed + i);
            var broken = await walk.GoAsync(Actions);
            Assert.True(broken.Length == 0, $"walk {i + 1}, seed {seed + i}: {broken}");
            signed += walk.Signed;
            routes.UnionWith(walk.Routes);
        }

        TestContext.Current.SendDiagnosticMessage($"{Walks} walks of {Actions} actions, {signed} packs signed, {routes.Count} routes asked");
        signed.ShouldBeGreaterThan(Walks / 10, "a walk that signs nothing proves nothing");
        routes.ShouldContain("POST /api/runs/{id:long}/faults/{fault:int}/fix");
    }

    /// <summary>A shop of its own whose packs are HTML only: printing them proves nothing here.</summary>
    public sealed class PaperlessShop : IAsyncLifetime
    {
        internal Shop Shop { get; } = new() { Chromium = "/no/browser" };

        public ValueTask InitializeAsync() => Shop.InitializeAsync();

        public ValueTask DisposeAsync() => Shop.DisposeAsync();
    }
}
