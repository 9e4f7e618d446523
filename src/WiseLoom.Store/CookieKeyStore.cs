using Npgsql;

namespace WiseLoom.Store;

/// <summary>Keys that sign the session cookies.</summary>
public sealed class CookieKeyStore(NpgsqlDataSource source)
{
    public IReadOnlyList<string> All()
    {
        using var command = source.CreateCommand("select xml from cookie_keys order by name");
        using var reader = command.ExecuteReader();
        var keys = new List<string>();
        while (reader.Read())
        {
            keys.Add(reader.GetString(0));
        }

        return keys;
    }

    public void Add(string name, string xml)
    {
        using var command = source.CreateCommand("insert into cookie_keys (name, xml) values (@name, @xml) on conflict (name) do nothing");
        command.Parameters.AddWithValue("name", name);
        command.Parameters.AddWithValue("xml", xml);
        command.ExecuteNonQuery();
    }
}
