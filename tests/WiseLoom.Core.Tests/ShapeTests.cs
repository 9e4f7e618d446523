using NetArchTest.Rules;
using WiseLoom.Core.Looms;
using WiseLoom.Instruments;

namespace WiseLoom.Core.Tests;

/// <summary>The core knows neither web nor database; instruments know the core only.</summary>
public sealed class ShapeTests
{
    [Fact]
    public void The_core_depends_on_no_edge() =>
        Types.InAssembly(typeof(Loom).Assembly).ShouldNot()
            .HaveDependencyOnAny("Npgsql", "DbUp", "Microsoft.AspNetCore", "Microsoft.Playwright", "WiseLoom.Store", "WiseLoom.Instruments", "WiseLoom.Web", "WiseLoom.Cli", "System.Net.Sockets")
            .GetResult().FailingTypeNames.ShouldBeNull();

    [Fact]
    public void Instruments_depend_on_the_core_only() =>
        Types.InAssembly(typeof(ScpiMeter).Assembly).ShouldNot()
            .HaveDependencyOnAny("Npgsql", "Microsoft.AspNetCore", "WiseLoom.Store", "WiseLoom.Web")
            .GetResult().FailingTypeNames.ShouldBeNull();
}
