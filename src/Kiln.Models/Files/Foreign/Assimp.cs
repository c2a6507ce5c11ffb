using System.Numerics;
using System.Runtime.InteropServices;
using System.Text;

namespace Kiln.Models.Files.Foreign;

/// <summary>The C interface of Debian's libassimp5 (5.2) as far as it is used here: layouts of its headers scene.h, mesh.h, material.h,
/// texture.h and metadata.h on 64 bits.</summary>
internal static unsafe partial class Assimp
{
    private const string Library = "libassimp.so.5";

    public const uint JoinIdenticalVertices = 0x2,
        Triangulate = 0x8;

    /// <summary>Kinds of faces that a mesh may have, beside triangles and polygons.</summary>
    public const uint Points = 1,
        Lines = 2;

    public const int MostUvSets = 8;

    [StructLayout(LayoutKind.Sequential)]
    public struct Text
    {
        public uint Length;
        public fixed byte Data[1024];

        public override readonly string ToString()
        {
            fixed (byte* data = Data)
                return Encoding.UTF8.GetString(data, (int)Math.Min(Length, 1023));
        }
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Scene
    {
        public uint Flags;
        public Node* Root;
        public uint MeshCount;
        public Mesh** Meshes;
        public uint MaterialCount;
        public void** Materials;
        public uint AnimationCount;
        public void** Animations;
        public uint TextureCount;
        public Picture** Textures;
        public uint LightCount;
        public void** Lights;
        public uint CameraCount;
        public void** Cameras;
        public Metadata* Metadata;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Node
    {
        public Text Name;
        public fixed float Placement[16];
        public Node* Parent;
        public uint ChildCount;
        public Node** Children;
        public uint MeshCount;
        public uint* Meshes;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Mesh
    {
        public uint Kinds;
        public uint VertexCount;
        public uint FaceCount;
        public Vector3* Positions;
        public Vector3* Normals;
        public Vector3* Tangents;
        public Vector3* Bitangents;
        public fixed long Colours[MostUvSets];
        public fixed long Uvs[MostUvSets];
        public fixed uint UvComponents[MostUvSets];
        public Face* Faces;
        public uint BoneCount;
        public void** Bones;
        public uint Material;
        public Text Name;
        public uint MorphCount;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Face
    {
        public uint Count;
        public uint* Corners;
    }

    /// <summary>A picture that the file holds: a height of 0 says that so many bytes are a file of its own.</summary>
    [StructLayout(LayoutKind.Sequential)]
    public struct Picture
    {
        public uint Width;
        public uint Height;
        public fixed byte Hint[9];
        public byte* Data;
        public Text Name;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Metadata
    {
        public uint Count;
        public Text* Keys;
        public Entry* Values;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Entry
    {
        public int Kind;
        public void* Data;

        /// <summary>The number it holds; null where it holds none.</summary>
        public readonly double? Number =>
            Kind switch
            {
                1 => *(int*)Data,
                2 => *(ulong*)Data,
                3 => *(float*)Data,
                4 => *(double*)Data,
                _ => null,
            };
    }

    [LibraryImport(Library, EntryPoint = "aiImportFileExWithProperties", StringMarshalling = StringMarshalling.Utf8)]
    public static partial Scene* Import(string path, uint flags, nint files, nint properties);

    [LibraryImport(Library, EntryPoint = "aiReleaseImport")]
    public static partial void Release(Scene* scene);

    [LibraryImport(Library, EntryPoint = "aiGetErrorString", StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint ErrorText();

    public static string Error => Marshal.PtrToStringUTF8(ErrorText()) ?? "";

    [LibraryImport(Library, EntryPoint = "aiCreatePropertyStore")]
    public static partial nint CreateProperties();

    [LibraryImport(Library, EntryPoint = "aiReleasePropertyStore")]
    public static partial void ReleaseProperties(nint properties);

    [LibraryImport(Library, EntryPoint = "aiSetImportPropertyInteger", StringMarshalling = StringMarshalling.Utf8)]
    public static partial void Set(nint properties, string name, int value);

    [LibraryImport(Library, EntryPoint = "aiGetMaterialString", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int GetString(void* material, string key, uint type, uint index, Text* result);

    [LibraryImport(Library, EntryPoint = "aiGetMaterialFloatArray", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int GetFloats(void* material, string key, uint type, uint index, float* result, uint* count);

    /// <summary>A name of a material, or the path of its first picture of a kind; null where it has none.</summary>
    public static string? TextOf(void* material, string key, uint kind = 0)
    {
        Text text;
        return GetString(material, key, kind, 0, &text) == 0 ? text.ToString() : null;
    }

    /// <summary>Numbers of a material; null where it has none, or some that are no numbers.</summary>
    public static float[]? NumbersOf(void* material, string key)
    {
        var numbers = stackalloc float[4];
        uint count = 4;
        if (GetFloats(material, key, 0, 0, numbers, &count) != 0 || count is 0 or > 4)
            return null;
        var result = new ReadOnlySpan<float>(numbers, (int)count).ToArray();
        return result.All(float.IsFinite) ? result : null;
    }
}
