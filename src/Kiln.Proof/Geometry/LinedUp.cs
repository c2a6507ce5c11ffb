using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Proof.Geometry;

/// <summary>Items that begin where a line of the cache begins, so that none of theirs lies across two where it need not.</summary>
internal sealed unsafe class LinedUp<T>
    where T : unmanaged
{
    private const int Line = 64;

    // Pinned: the place within it is found once.
    private readonly byte[] memory;
    private readonly T* first;

    public LinedUp(IReadOnlyList<T> items)
    {
        Count = items.Count;
        memory = GC.AllocateUninitializedArray<byte>(Math.Max(1, Count) * sizeof(T) + Line, pinned: true);
        var at = (nint)Unsafe.AsPointer(ref MemoryMarshal.GetArrayDataReference(memory));
        first = (T*)((at + Line - 1) & -Line);
        for (var i = 0; i < Count; i++)
            first[i] = items[i];
    }

    public int Count { get; }

    public ref T First => ref *first;
}
