using System.Text;
using System.Text.Json;

namespace Kiln.Looks.Texts;

/// <summary>On which line of a JSON text a part stands, by path: names and places of lists joined by slashes.</summary>
public sealed class JsonLines
{
    private readonly Dictionary<string, int> lines = new() { [""] = 1 };

    /// <exception cref="JsonException">The text is no JSON.</exception>
    public static JsonLines Of(string json)
    {
        var result = new JsonLines();
        var bytes = Encoding.UTF8.GetBytes(json);
        var reader = new Utf8JsonReader(
            bytes,
            new JsonReaderOptions { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true }
        );
        var open = new Stack<(string Path, int Next, bool IsList)>();
        string? name = null;
        int line = 1,
            counted = 0;
        while (reader.Read())
        {
            for (; counted < reader.TokenStartIndex; counted++)
                if (bytes[counted] == '\n')
                    line++;
            switch (reader.TokenType)
            {
                case JsonTokenType.PropertyName:
                    name = reader.GetString();
                    result.lines[Join(open.Peek().Path, name!)] = line;
                    break;
                case JsonTokenType.EndObject or JsonTokenType.EndArray:
                    open.Pop();
                    break;
                default:
                    var path = "";
                    if (open.TryPop(out var around))
                    {
                        path = Join(
                            around.Path,
                            around.IsList ? around.Next.ToString(System.Globalization.CultureInfo.InvariantCulture) : name!
                        );
                        open.Push(around with { Next = around.Next + 1 });
                    }
                    result.lines.TryAdd(path, line);
                    if (reader.TokenType is JsonTokenType.StartObject or JsonTokenType.StartArray)
                        open.Push((path, 0, reader.TokenType == JsonTokenType.StartArray));
                    break;
            }
        }
        return result;
    }

    /// <summary>The line of a part; of what is around it, where the part itself is not there.</summary>
    public int At(string path)
    {
        for (; ; path = path[..Math.Max(0, path.LastIndexOf('/'))])
            if (lines.TryGetValue(path, out var line))
                return line;
    }

    private static string Join(string path, string name) => path.Length == 0 ? name : path + "/" + name;
}
