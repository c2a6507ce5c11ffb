using Microsoft.AspNetCore.Identity;

namespace Kiln.Store.People;

/// <summary>
/// Passwords: at least twelve characters, none of the common ones (the dictionary of @zxcvbn-ts/language-common 3, MIT; those of twelve
/// characters and more), not the name itself;
/// hashed by ASP.NET Core's hasher (PBKDF2 with HMAC-SHA-512).
/// </summary>
public static class Passwords
{
    public const int Shortest = 12,
        Longest = 200;

    private static readonly PasswordHasher<string> Hasher = new();

    private static readonly Lazy<HashSet<string>> Common = new(() =>
    {
        using var reader = new StreamReader(typeof(Passwords).Assembly.GetManifestResourceStream("Kiln.Store.common-passwords.txt")!);
        return [.. reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries)];
    });

    /// <summary>Hash of a password that nobody has: a name that does not exist costs the same time as a wrong password.</summary>
    private static readonly Lazy<string> Nobody = new(() => Hasher.HashPassword("", Guid.NewGuid().ToString()));

    /// <exception cref="PersonException">It is too short, too long, or too easily guessed.</exception>
    public static string Hash(string name, string password)
    {
        if (password.Length is < Shortest or > Longest)
            throw new PersonException(
                "password.length",
                $"A password has {Shortest} to {Longest} characters; a few words in a row are easy to keep in mind."
            );
        var plain = password.ToLowerInvariant();
        if (
            Common.Value.Contains(plain)
            || plain.Distinct().Count() < 5
            || name.Length > 2 && plain.Replace(name, "", StringComparison.Ordinal).Length < 6
        )
            throw new PersonException(
                "password.common",
                "This password is among the first that are tried: it is a common one, repeats few characters, or is mostly the name."
            );
        return Hasher.HashPassword(name, password);
    }

    /// <summary>Without rules: for the demo's people.</summary>
    public static string HashAsItIs(string name, string password) => Hasher.HashPassword(name, password);

    /// <param name="hash">Null or empty where there is no such person, or none with a password.</param>
    public static bool Fits(string? hash, string password) =>
        Hasher.VerifyHashedPassword("", string.IsNullOrEmpty(hash) ? Nobody.Value : hash, password.Length > Longest ? "" : password)
            != PasswordVerificationResult.Failed
        && !string.IsNullOrEmpty(hash);

    /// <summary>Makes ready what the first sign-in would otherwise wait for.</summary>
    public static void Prepare() => _ = Nobody.Value;
}
