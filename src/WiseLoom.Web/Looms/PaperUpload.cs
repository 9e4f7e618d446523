using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Intake;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Looms;

/// <summary>Somebody's paper as it was sent, with what is said of it.</summary>
/// <param name="Said">Null for nothing.</param>
internal sealed record PaperUpload(byte[] File, IntakeSaid? Said)
{
    /// <summary>The paper, or why it is not read.</summary>
    internal static async Task<(PaperUpload? Paper, ProblemHttpResult? Refused)> ReadAsync(HttpContext context, CancellationToken cancel)
    {
        if (await FileForm.ReadAsync(context, cancel) is not { } sent)
        {
            return (null, FileForm.NoForm());
        }

        if (sent.File is not { } bytes)
        {
            return (null, UploadBody.TooLarge());
        }

        var said = IntakeView.Read(sent.Said, out var wrong);
        return wrong is null ? (new(bytes, said), null) : (null, Refusal.Field("/said", wrong));
    }
}
