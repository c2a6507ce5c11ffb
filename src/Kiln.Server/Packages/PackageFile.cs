using Kiln.Dialects.Networks;

namespace Kiln.Server.Packages;

/// <summary>Packages as downloads.</summary>
internal static class PackageFile
{
    /// <summary>Made in a temporary file first: a failure must not reach the browser as half a zip.</summary>
    public static async Task<IResult> SendAsync(Func<Stream, Task<CompiledLook>> write, Func<CompiledLook, string> name)
    {
        var temporary = new FileStream(Path.GetTempFileName(), FileMode.Create, FileAccess.ReadWrite, FileShare.None, 1 << 16, FileOptions.DeleteOnClose);
        try
        {
            var compiled = await write(temporary);
            temporary.Position = 0;
            return Results.Stream(temporary, "application/zip", name(compiled));
        }
        catch
        {
            await temporary.DisposeAsync();
            throw;
        }
    }
}
