using System.Text;
using Kiln.Pixels;

namespace Kiln.Testing.Files;

/// <summary>Contents of which only the name matters.</summary>
public static class Hashes
{
    public static ContentHash Named(string name) => ContentHash.Of(Encoding.UTF8.GetBytes(name));
}
