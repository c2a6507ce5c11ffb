using System.Text.Json.Serialization.Metadata;
using Kiln.Looks.Steps.Table;

namespace Kiln.Server.Platform.Errors;

/// <summary>Which fields of a body may be left out: those with a default, and those that may be null, which leaving out means.</summary>
internal static class RequiredFields
{
    public static IJsonTypeInfoResolver Resolver { get; } =
        new DefaultJsonTypeInfoResolver().WithAddedModifier(info =>
        {
            foreach (var property in info.Properties)
                if (property.IsRequired && (property.AssociatedParameter?.IsNullable ?? property.IsSetNullable))
                    property.IsRequired = false;
            StepTable.Kinds(info);
        });
}
