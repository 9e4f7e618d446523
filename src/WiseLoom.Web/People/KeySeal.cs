using System.Security.Cryptography;
using System.Text;
using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.XmlEncryption;

namespace WiseLoom.Web.People;

/// <summary>Seals the keys of session cookies by AES-256 in Galois/Counter Mode (NIST SP 800-38D): whoever reads the database alone cannot make a session.</summary>
/// <param name="secret">32 bytes that are kept outside the database.</param>
internal sealed class KeySeal(byte[] secret) : IXmlEncryptor
{
    private const int NonceBytes = 12, TagBytes = 16, SecretBytes = 32;

    /// <summary>Reads the secret from its setting.</summary>
    /// <param name="hex">64 hexadecimal digits.</param>
    /// <exception cref="InvalidOperationException">It is missing, or not of this form.</exception>
    internal static KeySeal Read(string? hex) => hex is { Length: 2 * SecretBytes } && hex.All(char.IsAsciiHexDigit)
        ? new(Convert.FromHexString(hex))
        : throw new InvalidOperationException($"WISELOOM_SECRET is {(hex is null ? "not set" : "not of this form")}: it takes {2 * SecretBytes} hexadecimal digits, the same for every process of a shop, kept outside the database; ./wise-loom start makes its own.");

    /// <inheritdoc/>
    public EncryptedXmlInfo Encrypt(XElement plaintextElement)
    {
        ArgumentNullException.ThrowIfNull(plaintextElement);
        var plain = Encoding.UTF8.GetBytes(plaintextElement.ToString(SaveOptions.DisableFormatting));
        var whole = new byte[NonceBytes + TagBytes + plain.Length];
        var nonce = whole.AsSpan(0, NonceBytes);
        RandomNumberGenerator.Fill(nonce);
        using var aes = new AesGcm(secret, TagBytes);
        aes.Encrypt(nonce, plain, whole.AsSpan(NonceBytes + TagBytes), whole.AsSpan(NonceBytes, TagBytes));
        return new(new XElement("sealed", Convert.ToBase64String(whole)), typeof(KeyUnsealer));
    }

    /// <summary>A mark that only who has the secret can make (HMAC-SHA256).</summary>
    /// <param name="of">What it is a mark of; different for each use.</param>
    internal byte[] Mark(string of) => HMACSHA256.HashData(secret, Encoding.UTF8.GetBytes(of));

    /// <summary>What was sealed.</summary>
    /// <exception cref="CryptographicException">It was sealed by another secret, or changed since.</exception>
    internal XElement Open(XElement element)
    {
        var whole = Convert.FromBase64String(element.Value);
        var plain = new byte[whole.Length - NonceBytes - TagBytes];
        using var aes = new AesGcm(secret, TagBytes);
        aes.Decrypt(whole.AsSpan(0, NonceBytes), whole.AsSpan(NonceBytes + TagBytes), whole.AsSpan(NonceBytes, TagBytes), plain);
        return XElement.Parse(Encoding.UTF8.GetString(plain));
    }
}

/// <summary>Opens sealed keys; the framework makes it by its type.</summary>
internal sealed class KeyUnsealer(IServiceProvider services) : IXmlDecryptor
{
    /// <inheritdoc/>
    public XElement Decrypt(XElement encryptedElement)
    {
        ArgumentNullException.ThrowIfNull(encryptedElement);
        return services.GetRequiredService<KeySeal>().Open(encryptedElement);
    }
}
