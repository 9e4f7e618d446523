using CsCheck;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Tests;

/// <summary>What each break does, held against whole states of the loom with it; symptoms and the guide that lead back to it.</summary>
public sealed class SymptomTests
{
    private static readonly Lazy<(BreakEffects Effects, SymptomTable Table, FaultGuide Guide)> Fan = new(() => Made(Looms.FrostFan));

    private static readonly Lazy<(BreakEffects Effects, SymptomTable Table, FaultGuide Guide)> Launch = new(() => Made(Looms.WorkLaunch));

    [Fact]
    public void Every_difference_is_that_of_whole_states_with_and_without_the_break_for_generated_looms() => PowerUpLawTests.Generated.Sample(
        x =>
        {
            var effects = BreakEffects.Of(x.Loom, x.Loom.AmbientC);
            foreach (var effect in effects.All)
            {
                Whole(effects, effect);
            }
        },
        iter: 15);

    [Fact]
    public void The_same_for_some_breaks_of_the_frost_fan()
    {
        foreach (var effect in Fan.Value.Effects.All.Where((_, i) => i % Effort.Of(25, 5) == 2))
        {
            Whole(Fan.Value.Effects, effect);
        }
    }

    [Fact]
    public void A_plug_that_is_off_does_what_its_device_left_out_does()
    {
        // Both are ways to say that nothing is at an injector's plug; only one of them goes through the wires.
        var states = LoomStates.For(Looms.FrostFan, 20);
        foreach (var off in Fan.Value.Effects.All.Where(e => e.Break is Unplugged { Connector: var c } && Looms.FrostFan.DevicesOn(c).Count() == 1 && Looms.FrostFan.DevicesOn(c).First().Pins.Values.All(p => p.Connector == c)).Take(12))
        {
            var device = Looms.FrostFan.DevicesOn(((Unplugged)off.Break).Connector).First();
            if (device.Model is ControllerModel or BatteryModel or CableModel || device.Inner.Count > 0)
            {
                continue;
            }

            var at = Fan.Value.Effects.Moments.All[(int)KeyPosition.Running];
            var left = states.At(at with { Without = [device.Ref] }, withProbes: false).Functions.Where(f => f.Device != device.Ref).ToDictionary(f => f.Name, f => f.Works);
            foreach (var difference in off.Sees.Where(d => d.Situation == at && d.Device != device.Ref))
            {
                left[difference.Function].ShouldBe(difference.Now, $"{off.Break.Id}: {difference.Function}");
            }
        }
    }

    [Fact]
    public void Every_suspect_s_break_in_the_model_gives_the_symptom_that_it_stands_under()
    {
        foreach (var (effects, table, _) in new[] { Fan.Value, Launch.Value })
        {
            var kinds = new SymptomKinds(effects);
            foreach (var symptom in table.Symptoms)
            {
                symptom.Suspects.Sum(s => s.Share).ShouldBe(1, 1e-9);
                foreach (var suspect in symptom.Suspects)
                {
                    var effect = effects.All.Single(e => e.Break.Id == suspect.Break.Id);
                    kinds.Of(effect).ShouldContain(s => s.Id == symptom.Id, suspect.Break.Id);
                }
            }
        }
    }

    [Fact]
    public void The_volts_of_a_check_are_those_of_the_loom_and_of_the_loom_with_the_suspect_broken()
    {
        var loom = Looms.FrostFan;
        var (effects, table, _) = Fan.Value;
        var sound = LoomStates.For(loom, effects.AmbientC);
        var told = table.Symptoms.SelectMany(s => s.Suspects).Where(s => s.Check.At is not null).DistinctBy(s => s.Break.Id).ToList();
        told.Count.ShouldBeGreaterThan(30);
        foreach (var suspect in told.Where((_, i) => i % 4 == 0))
        {
            var (at, point) = (effects.Moments.All[(int)suspect.Check.Key!.Value], suspect.Check.At!.Value);
            sound.Bare(at)!.Volts(point.ToString()).ShouldBe(suspect.Check.ShouldVolts!.Value, 1e-6);
            var broken = LoomStates.For(suspect.Break.In(AsBuilt.AsDrawn(loom, effects.AmbientC)), effects.AmbientC);
            broken.Bare(at)!.Volts(point.ToString()).ShouldBe(suspect.Check.BrokenVolts!.Value, 1e-6);
        }
    }

    [Theory]
    [InlineData("no-crank", "unplugged START")]
    [InlineData("no-crank", "blown fuse-start")]
    [InlineData("no-start", "unplugged CRANK")]
    [InlineData("no-start", "unplugged PUMP")]
    [InlineData("rough", "unplugged INJ3")]
    [InlineData("rough", "blown fuse-a2")]
    [InlineData("dead", "unplugged R-BAT")]
    [InlineData("off charge-lamp", "unplugged ALT")]
    [InlineData("code ECU-B:10 high", "unplugged ECT")]
    [InlineData("silent knock-1", "unplugged KN1")]
    public void The_frost_fan_s_symptoms_hold_what_a_mechanic_would_look_for(string symptom, string broken) =>
        Fan.Value.Table.Symptoms.Single(s => s.Id == symptom).Suspects.ShouldContain(s => s.Break.Id == broken);

    [Fact]
    public void What_is_met_often_and_looked_at_quickly_comes_first_and_shares_make_one()
    {
        foreach (var (effects, table, _) in new[] { Fan.Value, Launch.Value })
        {
            foreach (var symptom in table.Symptoms)
            {
                symptom.Suspects.Select(s => s.Share / s.Break.Minutes(effects.Loom)).Zip(symptom.Suspects.Skip(1).Select(s => s.Share / s.Break.Minutes(effects.Loom))).ShouldAllBe(p => p.First >= p.Second * (1 - 1e-12), symptom.Id);
                symptom.Suspects.Sum(s => s.Share).ShouldBe(1, 1e-9);
            }

            table.Symptoms.SelectMany(s => s.Suspects).Select(s => s.Check).Where(c => c.ShouldVolts is not null)
                .ShouldAllBe(c => Math.Abs(c.ShouldVolts!.Value - c.BrokenVolts!.Value) > 0.2 * effects.Loom.SupplyVolts);
        }
    }

    /// <summary>By the minutes that a person spends on the way to each cause, by how often it is met: what takes long is asked where it
    /// tells more.</summary>
    [Fact]
    public void The_guide_spends_few_minutes()
    {
        var (all, spent) = (0.0, 0.0);
        foreach (var start in Fan.Value.Guide.Starts)
        {
            Spend(start.Begin, 0);
        }

        (spent / all).ShouldBeLessThan(4.4);

        void Spend(GuideNode node, double minutes)
        {
            foreach (var cause in node.Causes)
            {
                (all, spent) = (all + cause.Weight, spent + (minutes * cause.Weight));
            }

            foreach (var answer in node.Answers)
            {
                Spend(answer.Next, minutes + 1 + node.Test!.Minutes);
            }
        }
    }

    [Fact]
    public void Plugs_come_before_wires_and_the_widest_symptoms_first()
    {
        Fan.Value.Table.Symptoms.Take(4).Select(s => s.Id).ShouldBe(["dead", "no-crank", "no-start", "rough"]);
        foreach (var symptom in Fan.Value.Table.Symptoms)
        {
            var firstWire = symptom.Suspects.Select(s => s.Break is OpenWire).ToList().IndexOf(true);
            symptom.Suspects.Skip(Math.Max(firstWire, 0)).ShouldAllBe(s => firstWire < 0 || s.Break is OpenWire);
        }
    }

    [Fact]
    public void The_guide_names_almost_every_cause_in_few_checks_and_no_way_is_longer_than_seven()
    {
        foreach (var (effects, table, guide) in new[] { Fan.Value, Launch.Value })
        {
            var play = guide.Play(effects, 200, 1);
            play.Named.ShouldBeGreaterThanOrEqualTo(0.95);
            play.MeanChecks.ShouldBeLessThanOrEqualTo(4);
            foreach (var start in guide.Starts)
            {
                Depth(start.Begin).ShouldBeLessThanOrEqualTo(FaultGuide.MostChecks);
                // Each suspect stands at one end and nothing else does.
                Ends(start.Begin).SelectMany(e => e.Causes).Select(c => c.Id).Order().ShouldBe(start.Symptom.Suspects.Select(s => s.Break.Id).Order());
            }

            var codes = guide.Starts.SelectMany(s => Ends(s.Begin)).Select(e => e.Code).OfType<string>().ToList();
            codes.Distinct().Count().ShouldBe(codes.Count);
            table.Symptoms.Length.ShouldBe(guide.Starts.Length);
        }
    }

    [Fact]
    public void The_same_loom_gives_the_same_guide()
    {
        var again = Made(Looms.WorkLaunch);
        Flat(again.Guide).ShouldBe(Flat(Launch.Value.Guide));
    }

    [Fact]
    public void A_loom_without_devices_has_breaks_that_nobody_sees()
    {
        var (effects, table, guide) = Made(Looms.Of("A:1-B:1", "A:2-B:2"));
        effects.All.Length.ShouldBe(4);
        table.Symptoms.ShouldBeEmpty();
        table.Unseen.Length.ShouldBe(4);
        guide.Play(effects, 200, 1).ShouldBe(new(0, 0, 0));
    }

    private static (BreakEffects Effects, SymptomTable Table, FaultGuide Guide) Made(Loom loom)
    {
        var effects = BreakEffects.Of(loom, loom.AmbientC);
        var table = SymptomTable.Of(effects);
        return (effects, table, FaultGuide.Of(effects, table));
    }

    private static void Whole(BreakEffects effects, BreakEffect effect)
    {
        var drawn = AsBuilt.AsDrawn(effects.Loom, effects.AmbientC);
        var (sound, broken) = (LoomStates.For(drawn, effects.AmbientC), LoomStates.For(effect.Break.In(drawn), effects.AmbientC));
        foreach (var at in effects.Moments.All)
        {
            var (was, now) = (sound.At(at, withProbes: false), broken.At(at, withProbes: false));
            var with = now.Functions.DistinctBy(f => f.Name).ToDictionary(f => f.Name, f => f.Works);
            var expected = was.NoState is not null || now.NoState is not null ? new List<string>()
                : was.Functions.Where(f => with.TryGetValue(f.Name, out var works) && works != f.Works).Select(f => $"{f.Name} {f.Works}").Order().ToList();
            effect.Sees.Where(d => d.Situation == at).Select(d => $"{d.Function} {d.Was}").Order().ToList().ShouldBe(expected, $"{effect.Break.Id}, {effects.Moments.InWords(at)}");
        }
    }

    private static int Depth(GuideNode node) => node.Do is null ? 0 : 1 + node.Answers.Max(a => Depth(a.Next));

    private static IEnumerable<GuideNode> Ends(GuideNode node) => node.Do is null ? [node] : node.Answers.SelectMany(a => Ends(a.Next));

    private static string Flat(FaultGuide guide)
    {
        static string Of(GuideNode node) => node.Do is null ? string.Join('+', node.Causes.Select(c => c.Id)) + node.Code : $"{node.Do}({string.Join('|', node.Answers.Select(a => $"{a.Answer}:{Of(a.Next)}"))})";
        return string.Join('\n', guide.Starts.Select(s => s.Symptom.Id + Of(s.Begin)));
    }
}
