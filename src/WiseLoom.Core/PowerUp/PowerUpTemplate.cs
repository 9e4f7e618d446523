using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>Where a controller of the shop answers.</summary>
/// <param name="Name">As people call it, 1 to 80 characters.</param>
public sealed record ControllerAddress(string Name, string Host, int Port);

/// <summary>How a shop powers its looms up.</summary>
/// <param name="School">Where, as files write it.</param>
/// <param name="Required">Stages without which no loom is released; none when the shop leaves power-up to its customers.</param>
/// <param name="SecondsDry">The longest first run without coolant, seconds; 5 to 600.</param>
/// <param name="Controllers">Controllers that answer on a line.</param>
public sealed record PowerUpTemplate(string School, ImmutableArray<int> Required, double SecondsDry, ImmutableArray<ControllerAddress> Controllers)
{
    private const int MostControllers = 40, LongestName = 80;

    /// <summary>What a shop starts with: on the bench, nothing required.</summary>
    public static PowerUpTemplate Usual { get; } = new("bench", [], 60, []);

    /// <summary>What of it cannot be.</summary>
    /// <param name="address">What of an address cannot be.</param>
    public IEnumerable<Problem> Problems(Func<string, int, IEnumerable<Problem>> address)
    {
        ArgumentNullException.ThrowIfNull(address);
        return Wrong(address);
    }

    private IEnumerable<Problem> Wrong(Func<string, int, IEnumerable<Problem>> address)
    {
        if (BenchFile.FindSchool(School ?? "") is not { } school)
        {
            yield return new("/school", $"Write one of {string.Join(", ", BenchFile.Schools)}.");
            yield break;
        }

        if (Required.IsDefault || Required.Any(s => !PowerUpStages.Of(school).Contains(s)))
        {
            yield return new("/required", $"In this school there are stages 1 to {PowerUpStages.Of(school).Length}.");
        }

        if (!(SecondsDry is >= 5 and <= 600))
        {
            yield return new("/secondsDry", "A first run without coolant lasts 5 to 600 s.");
        }

        if (Controllers.IsDefault || Controllers.Length > MostControllers)
        {
            yield return new("/controllers", $"At most {MostControllers} controllers are kept.");
            yield break;
        }

        foreach (var (controller, i) in Controllers.Select((c, i) => (c, i)))
        {
            if (controller?.Name is not { Length: >= 1 and <= LongestName })
            {
                yield return new($"/controllers/{i}/name", $"A name has 1 to {LongestName} characters.");
            }
            else
            {
                foreach (var problem in address(controller.Host, controller.Port))
                {
                    yield return problem with { At = $"/controllers/{i}{problem.At}" };
                }
            }
        }

        if (Controllers.Select(c => c?.Name).Distinct().Count() < Controllers.Length)
        {
            yield return new("/controllers", "Each controller has a name of its own.");
        }
    }

    /// <summary>Equal when every part is.</summary>
    public bool Equals(PowerUpTemplate? other) => other is not null && School == other.School && SecondsDry.Equals(other.SecondsDry) && Required.SequenceEqual(other.Required) && Controllers.SequenceEqual(other.Controllers);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(School, SecondsDry, Required.Length, Controllers.Length);
}
