using System.Security.Cryptography;
using System.Text;
using WiseLoom.Store;
using WiseLoom.Web.Demo;

namespace WiseLoom.Web.People;

/// <summary>The code by which whoever stands at the server's terminal becomes the first lead. It opens nothing once there is one.</summary>
internal sealed class FirstLead(KeySeal seal, PeopleStore people, DemoWorld demo)
{
    private const int Groups = 4, GroupLength = 5;

    /// <summary>The same in every process that has the secret.</summary>
    internal string Code { get; } = string.Join('-', Convert.ToHexString(seal.Mark("the first lead")).Chunk(GroupLength).Take(Groups).Select(g => new string(g)));

    /// <summary>Whether there is no lead who can come in.</summary>
    internal async Task<bool> IsMissingAsync(CancellationToken cancel) => !await people.HasLeadAsync(demo.IsShown, cancel);

    /// <summary>Whether a typed code is the right one; blanks, dashes and small letters do not matter.</summary>
    internal bool IsRight(string typed)
    {
        var (mine, theirs) = (Plain(Code), Plain(typed));
        return CryptographicOperations.FixedTimeEquals(mine, theirs);
    }

    /// <summary>Says in the terminal what to do first.</summary>
    internal async Task TellAsync(CancellationToken cancel)
    {
        if (await IsMissingAsync(cancel))
        {
            await Console.Out.WriteLineAsync($"There is no lead yet. Open the address in a browser and enter this code: {Code}".AsMemory(), cancel);
        }
    }

    private static byte[] Plain(string code) => Encoding.UTF8.GetBytes(string.Concat(code.Where(char.IsLetterOrDigit)).ToUpperInvariant());
}
