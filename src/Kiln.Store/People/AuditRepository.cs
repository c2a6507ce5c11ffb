namespace Kiln.Store.People;

/// <summary>One line of the audit.</summary>
public sealed record AuditRow(long Number, DateTime At, string Person, string Action, string Subject, string Detail, string Address);

/// <summary>Who did what to whom, when, from where. Lines are written in the transaction of what they tell of and never changed.</summary>
public sealed class AuditRepository(Database database)
{
    /// <summary>Newest first.</summary>
    /// <param name="before">Only lines before this number; null for the newest.</param>
    public async Task<IReadOnlyList<AuditRow>> ListAsync(long? before = null, int most = 200)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<AuditRow>(
                "select number, at, person, action, subject, detail, address from audit where (@before::bigint is null or number "
                    + "< @before) order by number desc limit @most",
                new { before, most = Math.Clamp(most, 1, 1000) }
            ),
        ];
    }

    internal static Task WriteAsync(UnitOfWork c, Actor by, string action, string subject, string detail = "") =>
        c.ExecuteAsync(
            "insert into audit (person, action, subject, detail, address) values (@Name, @action, @subject, @detail, @Address)",
            new
            {
                by.Name,
                by.Address,
                action,
                subject,
                detail,
            }
        );
}
