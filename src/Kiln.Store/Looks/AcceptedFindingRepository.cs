using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Looks;

public sealed record AcceptedFinding(string Code, string Subject, string Reason, string Person, DateTime At);

/// <summary>Findings that people accepted with a reason.</summary>
public sealed class AcceptedFindingRepository(Database database)
{
    public async Task<IReadOnlyList<AcceptedFinding>> OfLookAsync(LookId look)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<AcceptedFinding>(
                "select a.code, a.subject, a.reason, p.display_name as Person, a.at from accepted_findings a join people p on "
                    + "p.id = a.person_id where a.look_id = @look order by a.at",
                new { look }
            ),
        ];
    }

    public async Task AcceptAsync(LookId look, string code, string subject, string reason, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            """
            insert into accepted_findings (look_id, code, subject, reason, person_id) values (@look, @code, @subject, @reason, @person)
            on conflict (look_id, code, subject) do update set reason = excluded.reason, person_id = excluded.person_id, at = now()
            """,
            new
            {
                look,
                code,
                subject,
                reason,
                person,
            }
        );
    }

    /// <returns>Whether it had been accepted.</returns>
    public async Task<bool> TakeBackAsync(LookId look, string code, string subject)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "delete from accepted_findings where look_id = @look and code = @code and subject = @subject",
                new
                {
                    look,
                    code,
                    subject,
                }
            ) > 0;
    }
}
