using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>One row of a table, understood as far as it goes.</summary>
/// <param name="Row">In the file, from 1.</param>
/// <param name="Id">The wire's number; empty for none.</param>
internal sealed record PaperRow(string Sheet, int Row, bool IsChart, string Id, PaperEnd? One, PaperEnd? Other, WireColour Colour, double? Mm2, int? Awg, double? LengthMm, string Signal, string Twisted, string Role, string Note);
