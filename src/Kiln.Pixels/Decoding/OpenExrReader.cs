using System.Runtime.InteropServices;
using System.Text;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Pixels.Decoding;

/// <summary>
/// OpenEXR through the C interface of OpenEXR 3.1 (openexr.h): any channel names, half and float, of the first part.
/// Runs in the decoding child process only. Structure offsets are those of the 3.1 interface on 64-bit Linux.
/// </summary>
internal static unsafe partial class OpenExrReader
{
    private const string Library = "libOpenEXRCore-3_1.so.30";
    private const int ContextInitializerBytes = 104,
        PipelineBytes = 480,
        ChunkBytes = 64;
    private const int ChannelInfoBytes = 48,
        ChannelListEntryBytes = 32;
    private const int ReportErrorsSilently = 1;

    private static readonly Lazy<string?> LibraryFault = new(() =>
    {
        exr_get_library_version(out var major, out var minor, out var patch, out _);
        return OpenExrVersion.Fault(major, minor, patch);
    });

    public static ImageBuffer Read(string path, PictureFacts facts, DecodeLimits limits)
    {
        if (LibraryFault.Value is { } fault)
            throw new PictureException(fault);
        var initializer = stackalloc byte[ContextInitializerBytes];
        new Span<byte>(initializer, ContextInitializerBytes).Clear();
        *(ulong*)initializer = ContextInitializerBytes;
        *(int*)(initializer + 72) = limits.Longest;
        *(int*)(initializer + 76) = limits.Longest;
        *(int*)(initializer + 80) = limits.Longest;
        *(int*)(initializer + 96) = ReportErrorsSilently;
        nint context = 0;
        Check(exr_start_read(ref context, Encoding.UTF8.GetBytes(path + '\0'), initializer), "opened");
        try
        {
            return Part(context, facts, limits);
        }
        finally
        {
            _ = exr_finish(ref context);
        }
    }

    private static ImageBuffer Part(nint context, PictureFacts facts, DecodeLimits limits)
    {
        Check(exr_get_storage(context, 0, out var storage), "understood");
        if (storage > 1)
            throw new PictureException("This OpenEXR file holds deep data, which has no single value per pixel; flatten it first.");
        var window = stackalloc int[4];
        Check(exr_get_data_window(context, 0, window), "understood");
        Check(exr_get_channels(context, 0, out var list), "understood");
        int width = window[2] - window[0] + 1,
            height = window[3] - window[1] + 1,
            count = *(int*)list;
        limits.Check(width, height, count);
        var entries = *(byte**)((byte*)list + 8);
        var anyFloat = false;
        for (var c = 0; c < count; c++)
        {
            var entry = entries + c * ChannelListEntryBytes;
            var type = *(int*)(entry + 16);
            if (type == 0)
                throw new PictureException(
                    "This OpenEXR file has whole-number channels (identifiers); only half and float channels are read."
                );
            anyFloat |= type == 2;
            if (*(int*)(entry + 24) != 1 || *(int*)(entry + 28) != 1)
                throw new PictureException(
                    "This OpenEXR file has subsampled channels, which are not read; save it with full resolution in all channels."
                );
        }
        var result = new ImageBuffer(width, height, [.. facts.Channels], anyFloat ? SampleType.F32 : SampleType.F16);
        fixed (byte* target = result.Data)
        {
            if (storage == 0)
                Scanlines(context, result, target, window[1], height);
            else
                Tiles(context, result, target, width, height);
        }
        return result;
    }

    private static void Scanlines(nint context, ImageBuffer result, byte* target, int firstLine, int height)
    {
        Check(exr_get_scanlines_per_chunk(context, 0, out var lines), "understood");
        var chunk = stackalloc byte[ChunkBytes];
        using var pipeline = new Pipeline(context);
        for (var y = 0; y < height; y += lines)
        {
            Check(exr_read_scanline_chunk_info(context, 0, firstLine + y, chunk), $"read at line {y}");
            pipeline.Run(chunk, result, target, 0, y);
        }
    }

    private static void Tiles(nint context, ImageBuffer result, byte* target, int width, int height)
    {
        Check(exr_get_tile_sizes(context, 0, 0, 0, out var tileWidth, out var tileHeight), "understood");
        var chunk = stackalloc byte[ChunkBytes];
        using var pipeline = new Pipeline(context);
        for (var ty = 0; ty * tileHeight < height; ty++)
        for (var tx = 0; tx * tileWidth < width; tx++)
        {
            Check(exr_read_tile_chunk_info(context, 0, tx, ty, 0, 0, chunk), $"read at tile {tx}, {ty}");
            pipeline.Run(chunk, result, target, tx * tileWidth, ty * tileHeight);
        }
    }

    /// <summary>The library's decoding state, reused from chunk to chunk.</summary>
    private sealed class Pipeline(nint context) : IDisposable
    {
        private readonly byte* state = (byte*)NativeMemory.AllocZeroed(PipelineBytes);
        private bool started;

        public void Run(byte* chunk, ImageBuffer result, byte* target, int x, int y)
        {
            Check(started ? exr_decoding_update(context, 0, chunk, state) : exr_decoding_initialize(context, 0, chunk, state), "decoded");
            var channels = *(byte**)state;
            int count = *(short*)(state + 8),
                sample = result.Type.Bytes(),
                pixel = sample * result.ChannelCount;
            for (var c = 0; c < count; c++)
            {
                var info = channels + c * ChannelInfoBytes;
                var at = result.Channels.IndexOf(Marshal.PtrToStringUTF8(*(nint*)info) ?? "");
                if (at < 0)
                    throw new PictureException("The OpenEXR header and its data name different channels; the file is damaged.");
                *(short*)(info + 28) = (short)sample;
                *(ushort*)(info + 30) = (ushort)(result.Type == SampleType.F32 ? 2 : 1);
                *(int*)(info + 32) = pixel;
                *(int*)(info + 36) = pixel * result.Width;
                *(byte**)(info + 40) = target + ((long)y * result.Width + x) * pixel + at * sample;
            }
            if (!started)
                Check(exr_decoding_choose_default_routines(context, 0, state), "decoded");
            started = true;
            Check(exr_decoding_run(context, 0, state), $"decoded at line {y}");
        }

        public void Dispose()
        {
            if (started)
                _ = exr_decoding_destroy(context, state);
            NativeMemory.Free(state);
        }
    }

    private static void Check(int result, string what)
    {
        if (result != 0)
            throw new PictureException(
                $"The OpenEXR file cannot be {what} ({Marshal.PtrToStringUTF8(exr_get_default_error_message(result))}); it is "
                    + "damaged, cut short or uses a compression that is not read."
            );
    }

    [LibraryImport(Library)]
    private static partial void exr_get_library_version(out int major, out int minor, out int patch, out nint extra);

    [LibraryImport(Library)]
    private static partial int exr_start_read(ref nint context, byte[] path, byte* initializer);

    [LibraryImport(Library)]
    private static partial int exr_finish(ref nint context);

    [LibraryImport(Library)]
    private static partial int exr_get_storage(nint context, int part, out int storage);

    [LibraryImport(Library)]
    private static partial int exr_get_data_window(nint context, int part, int* window);

    [LibraryImport(Library)]
    private static partial int exr_get_channels(nint context, int part, out nint list);

    [LibraryImport(Library)]
    private static partial int exr_get_scanlines_per_chunk(nint context, int part, out int lines);

    [LibraryImport(Library)]
    private static partial int exr_get_tile_sizes(nint context, int part, int levelX, int levelY, out int width, out int height);

    [LibraryImport(Library)]
    private static partial int exr_read_scanline_chunk_info(nint context, int part, int y, byte* chunk);

    [LibraryImport(Library)]
    private static partial int exr_read_tile_chunk_info(nint context, int part, int x, int y, int levelX, int levelY, byte* chunk);

    [LibraryImport(Library)]
    private static partial int exr_decoding_initialize(nint context, int part, byte* chunk, byte* pipeline);

    [LibraryImport(Library)]
    private static partial int exr_decoding_update(nint context, int part, byte* chunk, byte* pipeline);

    [LibraryImport(Library)]
    private static partial int exr_decoding_choose_default_routines(nint context, int part, byte* pipeline);

    [LibraryImport(Library)]
    private static partial int exr_decoding_run(nint context, int part, byte* pipeline);

    [LibraryImport(Library)]
    private static partial int exr_decoding_destroy(nint context, byte* pipeline);

    [LibraryImport(Library)]
    private static partial nint exr_get_default_error_message(int code);
}
