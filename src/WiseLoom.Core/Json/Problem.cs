namespace WiseLoom.Core.Json;

/// <summary>One thing that is wrong or doubtful in a file, and where.</summary>
/// <param name="At">JSON pointer (RFC 6901) to the value, such as <c>/wires/3/to</c>; empty for the whole file.</param>
/// <param name="Message">What is wrong and what would be right, in plain words.</param>
public sealed record Problem(string At, string Message);
