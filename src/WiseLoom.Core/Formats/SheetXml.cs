using System.Text;
using System.Xml;
using DocumentFormat.OpenXml.Packaging;

namespace WiseLoom.Core.Formats;

/// <summary>Reads the XML of a workbook's parts as it streams by: nothing of it is kept but what is asked for.</summary>
internal static class SheetXml
{
    private static readonly XmlReaderSettings Settings = new() { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = SafeZip.MostUnpacked, IgnoreComments = true, IgnoreProcessingInstructions = true, CloseInput = true };

    internal static XmlReader Open(OpenXmlPart part) => XmlReader.Create(part.GetStream(FileMode.Open, FileAccess.Read), Settings);

    /// <summary>The characters of the element at which the reader stands, read piece by piece; the reader is left behind the element.</summary>
    /// <exception cref="OversizedTextException">There are more than a cell of a spreadsheet can have; nothing more is read.</exception>
    internal static string Content(XmlReader at)
    {
        if (at.IsEmptyElement)
        {
            at.Read();
            return "";
        }

        var (text, piece, depth) = (new StringBuilder(), new char[2048], at.Depth);
        at.Read();
        while (at.Depth > depth)
        {
            if (at.NodeType is XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.Whitespace or XmlNodeType.SignificantWhitespace)
            {
                for (var read = at.ReadValueChunk(piece, 0, piece.Length); read > 0; read = at.ReadValueChunk(piece, 0, piece.Length))
                {
                    if (text.Append(piece, 0, read).Length > SheetBudget.MostOfText)
                    {
                        throw new OversizedTextException();
                    }
                }
            }

            at.Read();
        }

        at.Read();
        return text.ToString();
    }

    /// <summary>The text that a person sees in the element at which the reader stands: of all its runs, without readings for pronunciation.</summary>
    internal static string PlainText(XmlReader at)
    {
        if (at.IsEmptyElement)
        {
            return "";
        }

        var (text, depth) = (new StringBuilder(), at.Depth);
        at.Read();
        while (at.Depth > depth)
        {
            if (at is { NodeType: XmlNodeType.Element, LocalName: "rPh" })
            {
                at.Skip();
            }
            else if (at is { NodeType: XmlNodeType.Element, LocalName: "t" })
            {
                if (text.Append(Content(at)).Length > SheetBudget.MostOfText)
                {
                    throw new OversizedTextException();
                }
            }
            else
            {
                at.Read();
            }
        }

        return text.ToString();
    }
}

/// <summary>Texts that stand once in a workbook and are shown in many cells.</summary>
internal static class SharedTexts
{
    internal static List<string> Read(WorkbookPart workbook, string source, SheetBudget budget, List<Problem> problems)
    {
        var texts = new List<string>();
        if (workbook.SharedStringTablePart is not { } part)
        {
            return texts;
        }

        using var reader = SheetXml.Open(part);
        while (reader.Read())
        {
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "si" })
            {
                if (texts.Count == SheetBudget.MostTexts)
                {
                    problems.Add(new(source, string.Create(System.Globalization.CultureInfo.InvariantCulture, $"More than {SheetBudget.MostTexts:#,0} different texts: this is no workbook of a loom.")));
                    return texts;
                }

                texts.Add(SheetXml.PlainText(reader));
                if (budget.TakeText(texts[^1].Length) is { } tooMuch)
                {
                    problems.Add(new(source, tooMuch));
                    return texts;
                }
            }
        }

        return texts;
    }
}

/// <summary>A text is longer than a cell of a spreadsheet can be.</summary>
internal sealed class OversizedTextException() : Exception($"A text has more than {SheetBudget.MostOfText:#,0} characters: no spreadsheet writes such a cell. Copy what is filled into a new file.");
