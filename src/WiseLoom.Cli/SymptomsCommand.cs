using System.Text.Json;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Cli;

/// <summary><c>symptoms LOOM [--ambient C]</c>: what each single break of a loom does, as a person sees it, and the way back from what is seen to the break.</summary>
internal static class SymptomsCommand
{
    private const int Played = 200;

    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--ambient");
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "symptoms needs a loom file.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        if (loom.Wires.Length > BreakEffects.MostWires)
        {
            Console.Error.WriteLine($"A loom of {loom.Wires.Length} wires is not broken piece by piece: {BreakEffects.MostWires} at most.");
            return 1;
        }

        var effects = BreakEffects.Of(loom, ambient ?? loom.AmbientC);
        var table = SymptomTable.Of(effects);
        var play = FaultGuide.Of(effects, table).Play(effects, Played, 1);
        CommandLine.Write(json =>
        {
            json.WriteStartObject();
            json.WriteStartArray("breaks");
            foreach (var effect in effects.All)
            {
                Write(json, effect);
            }

            json.WriteEndArray();
            json.WriteStartArray("symptoms");
            foreach (var symptom in table.Symptoms)
            {
                Write(json, symptom);
            }

            json.WriteEndArray();
            json.WriteStartObject("guide");
            json.WriteNumber("causes", play.Causes);
            json.WriteNumber("named", play.Named);
            json.WriteNumber("meanChecks", play.MeanChecks);
            json.WriteEndObject();
            json.WriteEndObject();
        });
        return 0;
    }

    private static void Write(Utf8JsonWriter json, BreakEffect effect)
    {
        json.WriteStartObject();
        json.WritePropertyName("break");
        Write(json, effect.Break);
        Write(json, effect.Sees);
        json.WriteStartArray("codes");
        foreach (var code in effect.Codes)
        {
            json.WriteStringValue(code.Code.Code);
        }

        json.WriteEndArray();
        CommandLine.WriteList(json, "silent", effect.Silent);
        json.WriteBoolean("noState", effect.NoState);
        json.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter json, Symptom symptom)
    {
        json.WriteStartObject();
        json.WriteString("id", symptom.Id);
        json.WriteString("title", symptom.Title);
        Write(json, symptom.Sees);
        json.WriteStartArray("suspects");
        foreach (var suspect in symptom.Suspects)
        {
            json.WriteStartObject();
            json.WritePropertyName("break");
            Write(json, suspect.Break);
            json.WriteNumber("share", suspect.Share);
            json.WriteStartObject("check");
            json.WriteString("do", suspect.Check.Do);
            if (suspect.Check is { At: { } at, Key: { } key, ShouldVolts: { } should, BrokenVolts: { } broken })
            {
                json.WriteString("at", at.ToString());
                json.WriteString("key", KeyPositions.Word(key));
                json.WriteNumber("shouldVolts", should);
                json.WriteNumber("brokenVolts", broken);
            }

            json.WriteEndObject();
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter json, IEnumerable<Difference> sees)
    {
        json.WriteStartArray("sees");
        foreach (var difference in sees)
        {
            json.WriteStartObject();
            json.WriteString("key", KeyPositions.Word(difference.Situation.Key));
            CommandLine.WriteList(json, "set", difference.Situation.Conditions.Order(StringComparer.Ordinal));
            json.WriteString("function", difference.Function);
            json.WriteBoolean("was", difference.Was);
            json.WriteBoolean("now", difference.Now);
            json.WriteBoolean("shows", difference.Shows);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    private static void Write(Utf8JsonWriter json, Break broken)
    {
        json.WriteStartObject();
        switch (broken)
        {
            case OpenWire open:
                json.WriteString("kind", "open");
                json.WriteString("wire", open.Wire);
                break;
            case Unplugged off:
                json.WriteString("kind", "unplugged");
                json.WriteString("connector", off.Connector);
                break;
            case Blown blown:
                json.WriteString("kind", "blown");
                json.WriteString("device", blown.Device);
                break;
        }

        json.WriteEndObject();
    }
}
