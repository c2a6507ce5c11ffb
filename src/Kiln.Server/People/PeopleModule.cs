namespace Kiln.Server.People;

/// <summary>Signing in.</summary>
internal static class PeopleModule
{
    public static IServiceCollection AddPeople(this IServiceCollection services) =>
        services.AddSingleton<SessionCookies>().AddSingleton<SignInLimits>().AddSingleton<Authentication>().AddSingleton<PeopleChanges>();
}
