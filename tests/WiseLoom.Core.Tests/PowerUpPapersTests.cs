using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What is computed besides the checks: settings, codes that have to be there, the shop's template, hidden machines for practice.</summary>
public sealed class PowerUpPapersTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    [Theory]
    [InlineData("frost-fan.json", "cylinders", "8")]
    [InlineData("frost-fan.json", "Crank position sensor: wheel", "36−1")]
    [InlineData("frost-fan.json", "Crank position sensor: kind", "inductive")]
    [InlineData("frost-fan.json", "Cam position sensor: kind", "hall")]
    [InlineData("work-launch.json", "Crank position sensor: wheel", "60−2")]
    public void The_settings_sheet_says_what_the_loom_needs(string file, string name, string value) =>
        SettingsSheet.Of(Looms.Demo(file)).Rows.Where(r => r.Setting.Name == name).ShouldHaveSingleItem().Setting.Text.ShouldStartWith(value);

    [Fact]
    public void A_controller_that_has_what_the_sheet_asks_for_differs_in_nothing_and_each_other_value_is_one_difference()
    {
        var sheet = SettingsSheet.Of(Fan);
        var controller = sheet.Rows[0].Controller;
        var has = sheet.Rows.ToImmutableDictionary(r => r.Setting.Name, r => r.Setting, StringComparer.Ordinal);
        sheet.Against(controller, has, missing: true).ShouldBeEmpty();
        foreach (var row in sheet.Rows)
        {
            var other = row.Setting.Number is { } number ? ControllerSetting.Of(row.Setting.Name, number + 1) : ControllerSetting.Of(row.Setting.Name, "something else");
            sheet.Against(controller, has.SetItem(row.Setting.Name, other), missing: true).ShouldHaveSingleItem().InWords().ShouldContain($"this loom needs {row.Setting.Text}");
            sheet.Against(controller, has.Remove(row.Setting.Name)).ShouldBeEmpty();
            sheet.Against(controller, has.Remove(row.Setting.Name), missing: true).ShouldHaveSingleItem().Reported.ShouldBeNull();
        }
    }

    [Fact]
    public void What_is_not_fitted_is_the_reason_of_its_code_and_everything_fitted_stores_none()
    {
        ExpectedCodes.Of(Fan, BenchFit.AsDrawn, 20).ShouldBeEmpty();
        foreach (var device in new[] { "coolant-sensor", "injector-3" })
        {
            var codes = ExpectedCodes.Of(Fan, new BenchFit(ImmutableSortedDictionary<string, Fitting>.Empty.Add(device, new NothingFitted())), 20);
            codes.ShouldNotBeEmpty(device);
            codes.ShouldAllBe(c => c.Reason.Contains("not fitted"));
        }
    }

    public static TheoryData<string, Func<PowerUpTemplate, PowerUpTemplate>> WrongTemplates => new()
    {
        { "/school", t => t with { School = "garage" } },
        { "/school", t => t with { School = null! } },
        { "/required", t => t with { Required = [7] } },
        { "/required", t => t with { Required = [0] } },
        { "/required", t => t with { Required = default } },
        { "/secondsDry", t => t with { SecondsDry = 4 } },
        { "/secondsDry", t => t with { SecondsDry = 601 } },
        { "/secondsDry", t => t with { SecondsDry = double.NaN } },
        { "/controllers", t => t with { Controllers = default } },
        { "/controllers", t => t with { Controllers = [.. Enumerable.Range(0, 41).Select(i => new ControllerAddress($"{i}", "127.0.0.1", 1))] } },
        { "/controllers", t => t with { Controllers = [new("one", "127.0.0.1", 1), new("one", "127.0.0.1", 2)] } },
        { "/controllers/0/name", t => t with { Controllers = [new("", "127.0.0.1", 1)] } },
        { "/controllers/0/name", t => t with { Controllers = [new(new string('n', 81), "127.0.0.1", 1)] } },
        { "/controllers/0/host", t => t with { Controllers = [new("one", "", 1)] } },
    };

    [Fact]
    public void A_template_that_cannot_be_is_refused_at_its_place()
    {
        static IEnumerable<Problem> Address(string host, int port) => host.Length == 0 ? [new("/host", "empty")] : [];
        PowerUpTemplate.Usual.Problems(Address).ShouldBeEmpty();
        foreach (var row in WrongTemplates)
        {
            var (at, change) = row.Data;
            change(PowerUpTemplate.Usual).Problems(Address).Select(p => p.At).ShouldContain(at);
        }
    }

    [Theory]
    [InlineData("")]
    [InlineData("7")]
    [InlineData("null")]
    [InlineData("{\"faults\":7}")]
    [InlineData("{\"faults\":[{\"kind\":\"nothing of the kind\"}]}")]
    [InlineData("{\"settings\":[]}")]
    [InlineData("{\"settings\":{\"cylinders\":true}}")]
    [InlineData("{\"fuses\":{\"fuse-a1\":\"ten\"}}")]
    [InlineData("{\"fuses\":{\"no such fuse\":10}}")]
    [InlineData("{\"fuses\":{\"main-relay\":10}}")]
    [InlineData("{\"camTeeth\":\"one\"}")]
    public void A_hidden_machine_that_cannot_be_is_said(string json)
    {
        var (machine, wrong) = HiddenMachine.Read(json, Fan);
        machine.ShouldBeNull();
        wrong.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void A_hidden_machine_is_read_whole()
    {
        var (machine, wrong) = HiddenMachine.Read("""{"faults":[{"kind":"swap","connector":"ECU-A","cavities":["23","25"]}],"settings":{"cylinders":6,"firing order":"1 · 2"},"fuses":{"fuse-a6":25},"camTeeth":1,"noise":0.02}""", Fan);
        wrong.ShouldBeNull();
        (machine!.Faults.Length, machine.Settings["cylinders"].Number, machine.Settings["firing order"].Text, machine.Fuses["fuse-a6"]).ShouldBe((1, 6, "1 · 2", 25));
    }
}
