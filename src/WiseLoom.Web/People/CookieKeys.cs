using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.DataProtection.Repositories;
using Microsoft.Extensions.Options;
using WiseLoom.Store;

namespace WiseLoom.Web.People;

/// <summary>Keeps the keys of session cookies in the database, sealed, so that sessions outlive a restart and hold for every process.</summary>
internal sealed class CookieKeys(CookieKeyStore store, KeySeal seal) : IXmlRepository, IConfigureOptions<KeyManagementOptions>
{
    public void Configure(KeyManagementOptions options) => (options.XmlRepository, options.XmlEncryptor) = (this, seal);

    public IReadOnlyCollection<XElement> GetAllElements() => [.. store.All().Select(XElement.Parse)];

    public void StoreElement(XElement element, string friendlyName) => store.Add(friendlyName, element.ToString(SaveOptions.DisableFormatting));
}
