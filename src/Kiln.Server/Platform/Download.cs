using Kiln.Server.Platform.Security;

namespace Kiln.Server.Platform;

/// <summary>Files that are made while somebody waits for them.</summary>
internal static class Download
{
    /// <summary>A zip, made in a temporary file first: a failure must not reach the browser as half of one.</summary>
    /// <param name="write">Writes it and says what it is called.</param>
    public static async Task<IResult> ZipAsync(Func<Stream, Task<string>> write)
    {
        var temporary = new FileStream(
            Path.GetTempFileName(),
            FileMode.Create,
            FileAccess.ReadWrite,
            FileShare.None,
            1 << 16,
            FileOptions.DeleteOnClose
        );
        try
        {
            var name = await write(temporary);
            temporary.Position = 0;
            return Results.Stream(temporary, "application/zip", name);
        }
        catch
        {
            await temporary.DisposeAsync();
            throw;
        }
    }
}
