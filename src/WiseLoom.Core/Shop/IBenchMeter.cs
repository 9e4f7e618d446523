using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Shop;

/// <summary>A meter that can be asked for a reading.</summary>
public interface IBenchMeter
{
    /// <summary>Switches the probes to a step's points and takes one reading.</summary>
    /// <exception cref="MeterException">The meter did not answer, or answered with an error.</exception>
    Task<Reading> MeasureAsync(Loom loom, StepProbes probes, CancellationToken cancel);

    /// <summary>Takes one reading of a check. A switch matrix sets it up by itself: both probes on its first column, in the air, or across its reference link.</summary>
    /// <exception cref="MeterException">The meter did not answer, or answered with an error.</exception>
    Task<Reading> CheckAsync(Loom loom, CheckKind check, CancellationToken cancel);

    /// <summary>Whose work the meter says it is.</summary>
    /// <exception cref="MeterException">The meter does not answer.</exception>
    Task<string> IdentityAsync(CancellationToken cancel);

    /// <summary>Which loom a stand-in reads.</summary>
    /// <returns>Its name; null for a real meter.</returns>
    /// <exception cref="MeterException">The meter does not answer.</exception>
    Task<string?> LoomAsync(CancellationToken cancel);

    /// <summary>In practice only: tells the stand-in whether its loom is being flexed. A real meter takes no notice.</summary>
    /// <exception cref="MeterException">The meter does not answer.</exception>
    Task MoveAsync(bool moved, CancellationToken cancel);

    /// <summary>In practice only: asks the stand-in to put right what is wrong at a place.</summary>
    /// <returns>How many hidden faults were there.</returns>
    /// <exception cref="MeterException">The meter does not answer, or is a real one.</exception>
    Task<int> RepairAsync(string place, CancellationToken cancel);
}

/// <summary>A meter could not give a reading; the message says why, in plain words.</summary>
public sealed class MeterException : Exception
{
    /// <summary>A meter that did not answer as it should, without words.</summary>
    public MeterException()
    {
    }

    /// <summary>A meter that did not answer as it should, in words for the bench.</summary>
    public MeterException(string message)
        : base(message)
    {
    }

    /// <summary>A meter that did not answer as it should, in words for the bench, with what lay under it.</summary>
    public MeterException(string message, Exception inner)
        : base(message, inner)
    {
    }
}
