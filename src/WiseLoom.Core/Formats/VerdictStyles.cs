using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Spreadsheet;

namespace WiseLoom.Core.Formats;

/// <summary>How cells with a verdict look in a workbook: the word stands in each, and a colour behind it.</summary>
internal static class VerdictStyles
{
    private static readonly (string Word, string Rgb)[] Words = [("pass", "FFCFE6CF"), ("fail", "FFF2C4BD"), ("can't tell", "FFF3E3B3"), ("to be measured again", "FFF3E3B3")];

    /// <summary>The style of a cell that says this; 0 for none of its own.</summary>
    internal static uint Of(string text) => (uint)(Array.FindIndex(Words, w => w.Word == text) + 1);

    /// <summary>The styles of a workbook.</summary>
    internal static Stylesheet Sheet() => new(
        new Fonts(new Font(new FontSize { Val = 11 }, new FontName { Val = "Calibri" })),
        new Fills([
            new Fill(new PatternFill { PatternType = PatternValues.None }), new Fill(new PatternFill { PatternType = PatternValues.Gray125 }),
            .. Words.Select(w => new Fill(new PatternFill(new ForegroundColor { Rgb = w.Rgb }) { PatternType = PatternValues.Solid })),
        ]),
        new Borders(new Border(new LeftBorder(), new RightBorder(), new TopBorder(), new BottomBorder(), new DiagonalBorder())),
        new CellStyleFormats(new CellFormat()),
        new CellFormats([new CellFormat(), .. Words.Select((_, i) => new CellFormat { FillId = (uint)i + 2, ApplyFill = true })]));
}
