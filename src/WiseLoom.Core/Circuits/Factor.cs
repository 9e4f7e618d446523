namespace WiseLoom.Core.Circuits;

/// <summary>A network with its values, and with all nodes removed: ready to be solved for any currents.</summary>
internal sealed class Factor
{
    internal Factor(Elimination plan)
    {
        (BaseBetween, Between, Weight) = (new double[plan.Slots], new double[plan.Slots], new double[plan.Slots]);
        (BaseLeak, Leak, Sum) = (new double[plan.Count], new double[plan.Count], new double[plan.Count]);
    }

    private Factor(Factor of)
    {
        (BaseBetween, Between, Weight) = ((double[])of.BaseBetween.Clone(), (double[])of.Between.Clone(), (double[])of.Weight.Clone());
        (BaseLeak, Leak, Sum) = ((double[])of.BaseLeak.Clone(), (double[])of.Leak.Clone(), (double[])of.Sum.Clone());
        (HeldAt, HeldSiemens) = (of.HeldAt, of.HeldSiemens);
    }

    /// <summary>Where a probe is held, by place in the order; −1 for nowhere.</summary>
    internal int HeldAt { get; set; } = -1;

    /// <summary>The probe's own conductance to the reference.</summary>
    internal double HeldSiemens { get; set; }

    /// <summary>Siemens by slot, as the network has them.</summary>
    internal double[] BaseBetween { get; }

    /// <summary>Siemens to the reference by place in the order, as the network has them.</summary>
    internal double[] BaseLeak { get; }

    /// <summary>Siemens by slot at the moment its node is removed.</summary>
    internal double[] Between { get; }

    /// <summary>Siemens to the reference at the moment a node is removed.</summary>
    internal double[] Leak { get; }

    /// <summary>What each removed node saw, siemens.</summary>
    internal double[] Sum { get; }

    /// <summary>By slot: the share of a removed node's current that goes to that neighbour.</summary>
    internal double[] Weight { get; }

    internal Factor Copy() => new(this);

    /// <summary>Takes over the values of another one of the same network.</summary>
    internal void TakeOver(Factor of)
    {
        of.BaseBetween.CopyTo(BaseBetween, 0);
        of.Between.CopyTo(Between, 0);
        of.Weight.CopyTo(Weight, 0);
        of.BaseLeak.CopyTo(BaseLeak, 0);
        of.Leak.CopyTo(Leak, 0);
        of.Sum.CopyTo(Sum, 0);
        (HeldAt, HeldSiemens) = (of.HeldAt, of.HeldSiemens);
    }
}
