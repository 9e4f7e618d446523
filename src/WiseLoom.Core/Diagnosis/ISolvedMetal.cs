namespace WiseLoom.Core.Diagnosis;

/// <summary>A piece of metal with loops, solved.</summary>
internal interface ISolvedMetal
{
    /// <summary>Mean ohms between two of its nodes.</summary>
    double Ohms(int a, int b);

    /// <summary>What an ampere from one of its nodes to another does.</summary>
    Flow Between(int a, int b);
}
