using Vogen;

[assembly: VogenDefaults(
    underlyingType: typeof(Guid),
    conversions: Conversions.SystemTextJson,
    staticAbstractsGeneration: StaticAbstractsGeneration.MostCommon | StaticAbstractsGeneration.InstanceMethodsAndProperties,
    openApiSchemaCustomizations: OpenApiSchemaCustomizations.Omit,
    toPrimitiveCasting: CastOperator.None,
    fromPrimitiveCasting: CastOperator.None
)]

namespace Kiln.Looks.Ids;

/// <summary>What the studio gives an id: a UUID of version 7 (RFC 9562), each kind a type, so that one never stands for another.</summary>
public static class Ids
{
    /// <summary>An id that nothing has yet; later ones sort after earlier ones.</summary>
    public static T New<T>()
        where T : IVogen<T, Guid> => T.From(Guid.CreateVersion7());

    /// <summary>Whether a type is one of these.</summary>
    public static bool IsId(Type type) =>
        type.IsValueType && type.GetInterfaces().Any(i => i.IsGenericType && i.GetGenericTypeDefinition() == typeof(IVogen<,>));
}

[ValueObject]
public readonly partial struct LookId;

[ValueObject]
public readonly partial struct VersionId;

[ValueObject]
public readonly partial struct CollectionId;

[ValueObject]
public readonly partial struct DeliveryId;

[ValueObject]
public readonly partial struct PersonId;

[ValueObject]
public readonly partial struct SessionId;

[ValueObject]
public readonly partial struct BatchId;

[ValueObject]
public readonly partial struct SheetId;

[ValueObject]
public readonly partial struct ProofOrderId;

[ValueObject]
public readonly partial struct ComparisonId;

[ValueObject]
public readonly partial struct FilterId;

[ValueObject]
public readonly partial struct ChainId;

[ValueObject]
public readonly partial struct FolderId;

[ValueObject]
public readonly partial struct NamingRuleId;

[ValueObject]
public readonly partial struct StudioProfileId;

[ValueObject]
public readonly partial struct ConfigId;

[ValueObject]
public readonly partial struct LightId;

[ValueObject]
public readonly partial struct ModelId;
