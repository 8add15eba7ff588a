namespace HardyEmber.Store;

/// <summary>A browser that was let in.</summary>
/// <param name="Id">What a list names it by.</param>
/// <param name="Pass">Digest of its cookie.</param>
/// <param name="Token">Digest of the token that was given.</param>
/// <param name="Address">Where it came from.</param>
/// <param name="Browser">What it says it is.</param>
public sealed record KeptLogin(string Id, string Pass, string Token, DateTimeOffset Created, DateTimeOffset Ends, string Address, string Browser);

/// <summary>The table <c>logins</c>.</summary>
public sealed class LoginStore(Database database, StoreWriter writer)
{
    /// <summary>Keeps a login; those that have ended are forgotten with it.</summary>
    /// <exception cref="StoreException">Nothing was stored.</exception>
    public Task KeepAsync(KeptLogin login)
    {
        ArgumentNullException.ThrowIfNull(login);
        return writer.WriteAsync(connection =>
        {
            using var insert = connection.CreateCommand();
            insert.CommandText = """
                DELETE FROM logins WHERE ends < $created;
                INSERT INTO logins (id, pass, token, created, ends, address, browser) VALUES ($id, $pass, $token, $created, $ends, $address, $browser)
                """;
            Rows.Bind(insert, ("$id", login.Id), ("$pass", login.Pass), ("$token", login.Token), ("$created", Rows.Stamp(login.Created)), ("$ends", Rows.Stamp(login.Ends)),
                ("$address", login.Address), ("$browser", login.Browser));
            insert.ExecuteNonQuery();
        });
    }

    /// <summary>Forgets a login; nothing happens where there is none.</summary>
    /// <exception cref="StoreException">Nothing was changed.</exception>
    public Task ForgetAsync(string id) => writer.WriteAsync(connection =>
    {
        using var delete = connection.CreateCommand();
        delete.CommandText = "DELETE FROM logins WHERE id = $id";
        Rows.Bind(delete, ("$id", id));
        delete.ExecuteNonQuery();
    });

    /// <summary>The logins that a token let in and that have not ended.</summary>
    public IReadOnlyList<KeptLogin> Of(string token, DateTimeOffset now)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT id, pass, created, ends, address, browser FROM logins WHERE token = $token AND ends > $now";
        Rows.Bind(select, ("$token", token), ("$now", Rows.Stamp(now)));
        using var reader = select.ExecuteReader();
        var logins = new List<KeptLogin>();
        while (reader.Read())
        {
            logins.Add(new KeptLogin(reader.GetString(0), reader.GetString(1), token, Rows.Time(reader.GetString(2)), Rows.Time(reader.GetString(3)), reader.GetString(4),
                reader.GetString(5)));
        }

        return logins;
    }
}
