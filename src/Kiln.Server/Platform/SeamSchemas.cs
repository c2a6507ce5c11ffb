using System.Text.Json.Serialization.Metadata;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Kiln.Server.Platform;

/// <summary>
/// In the API's description ids are UUIDs; hashes, spaces and lane addresses are texts, as they are in JSON. Their converters hide that.
/// </summary>
internal static class SeamSchemas
{
    public static void Describe(OpenApiOptions options)
    {
        options.AddSchemaTransformer(DescribeAsync);
        options.CreateSchemaReferenceId = type =>
            IsSeam(Nullable.GetUnderlyingType(type.Type) ?? type.Type) ? null : OpenApiOptions.CreateDefaultSchemaReferenceId(type);
        // Parameters that stand in a record have its names; all others are written in camel case, as clients send them.
        options.AddOperationTransformer(
            (operation, _, _) =>
            {
                foreach (var parameter in operation.Parameters?.OfType<OpenApiParameter>() ?? [])
                    if (parameter.In == ParameterLocation.Query && parameter.Name is { Length: > 0 } name)
                        parameter.Name = System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(name);
                return Task.CompletedTask;
            }
        );
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info.Title = "Nimble Kiln";
                document.Info.Version = typeof(SeamSchemas).Assembly.GetName().Version!.ToString(3);
                return Task.CompletedTask;
            }
        );
    }

    private static Task DescribeAsync(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancel)
    {
        var asked = context.JsonTypeInfo.Type;
        // A parameter that is parsed from text is described as a text; its own type stands beside it.
        if (asked == typeof(string) && context.JsonPropertyInfo is null && context.ParameterDescription is { } parameter)
            asked = parameter.ParameterDescriptor?.ParameterType ?? asked;
        if (context.JsonTypeInfo is { Kind: JsonTypeInfoKind.Enumerable, ElementType: { } element } && IsSeam(element))
            schema.Items = new OpenApiSchema { Type = JsonSchemaType.String, Format = FormatOf(element) };
        var type = Nullable.GetUnderlyingType(asked) ?? asked;
        if (!IsSeam(type))
            return Task.CompletedTask;
        var mayLack = context.JsonTypeInfo.Type != typeof(string) && (type != asked || context.JsonPropertyInfo is { IsGetNullable: true });
        schema.Type = mayLack ? JsonSchemaType.String | JsonSchemaType.Null : JsonSchemaType.String;
        schema.Format = FormatOf(type);
        return Task.CompletedTask;
    }

    private static string? FormatOf(Type type) => Ids.IsId(type) ? "uuid" : null;

    private static bool IsSeam(Type type) =>
        type == typeof(ContentHash) || type == typeof(LaneAddress) || type == typeof(SpaceId) || Ids.IsId(type);
}
