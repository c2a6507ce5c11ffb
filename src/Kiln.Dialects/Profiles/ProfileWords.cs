using System.Text.Json.Serialization;

namespace Kiln.Dialects.Profiles;

// The words of a profile; another word is refused with those that there are.

/// <summary>The document a network is written as.</summary>
[JsonConverter(typeof(WordConverter<DocumentKind>))]
public enum DocumentKind
{
    [JsonStringEnumMemberName("materialx")]
    MaterialX,

    [JsonStringEnumMemberName("gltf")]
    Gltf,

    [JsonStringEnumMemberName("usd")]
    Usd,
}

/// <summary>Whether a look becomes nodes of its own or fills fixed places.</summary>
[JsonConverter(typeof(WordConverter<NetworkStructure>))]
public enum NetworkStructure
{
    [JsonStringEnumMemberName("nodes")]
    Nodes,

    [JsonStringEnumMemberName("slots")]
    Slots,
}

/// <summary>Whether every library of the document's kind knows the nodes, or definitions go with the document.</summary>
[JsonConverter(typeof(WordConverter<NodeDefinitionSource>))]
public enum NodeDefinitionSource
{
    [JsonStringEnumMemberName("standard")]
    Standard,

    [JsonStringEnumMemberName("own")]
    Own,
}

/// <summary>Whose input it is.</summary>
[JsonConverter(typeof(WordConverter<ShaderPart>))]
public enum ShaderPart
{
    [JsonStringEnumMemberName("surface")]
    Surface,

    [JsonStringEnumMemberName("displacement")]
    Displacement,
}

/// <summary>How a picture says in which space it is stored.</summary>
[JsonConverter(typeof(WordConverter<ReadingStyle>))]
public enum ReadingStyle
{
    /// <summary>A colour space attribute, on colours only.</summary>
    [JsonStringEnumMemberName("materialx")]
    MaterialX,

    /// <summary>A text port with the config's name.</summary>
    [JsonStringEnumMemberName("config")]
    Config,

    /// <summary>A port with the dialect's own word for the space.</summary>
    [JsonStringEnumMemberName("named")]
    Named,

    /// <summary>The place decides.</summary>
    [JsonStringEnumMemberName("fixed")]
    Fixed,
}

/// <summary>Whether a transform's scale counts repeats or gives the size of one.</summary>
[JsonConverter(typeof(WordConverter<ScaleSense>))]
public enum ScaleSense
{
    [JsonStringEnumMemberName("multiply")]
    Multiply,

    [JsonStringEnumMemberName("divide")]
    Divide,
}

/// <summary>What a transform does first.</summary>
[JsonConverter(typeof(WordConverter<TransformOrder>))]
public enum TransformOrder
{
    /// <summary>The look's own.</summary>
    [JsonStringEnumMemberName("rotate-scale")]
    RotateThenScale,

    [JsonStringEnumMemberName("scale-rotate")]
    ScaleThenRotate,
}

/// <summary>When a transform shifts.</summary>
[JsonConverter(typeof(WordConverter<ShiftTime>))]
public enum ShiftTime
{
    /// <summary>Subtracted first.</summary>
    [JsonStringEnumMemberName("before")]
    Before,

    /// <summary>Added last.</summary>
    [JsonStringEnumMemberName("after")]
    After,
}

/// <summary>Which way a positive angle turns.</summary>
[JsonConverter(typeof(WordConverter<RotationSense>))]
public enum RotationSense
{
    /// <summary>Coordinates are multiplied by R(−angle) in the dialect's own axes.</summary>
    [JsonStringEnumMemberName("ccw")]
    CounterClockwise,

    /// <summary>By R(angle).</summary>
    [JsonStringEnumMemberName("cw")]
    Clockwise,
}

[JsonConverter(typeof(WordConverter<AngleUnit>))]
public enum AngleUnit
{
    [JsonStringEnumMemberName("degrees")]
    Degrees,

    [JsonStringEnumMemberName("radians")]
    Radians,
}

/// <summary>What makes a direction of a stored picture.</summary>
[JsonConverter(typeof(WordConverter<NormalDecoding>))]
public enum NormalDecoding
{
    /// <summary>The node decodeNormal.</summary>
    [JsonStringEnumMemberName("node")]
    Node,

    /// <summary>The picture, told by its kind.</summary>
    [JsonStringEnumMemberName("picture")]
    Picture,

    /// <summary>The picture's own scale and bias.</summary>
    [JsonStringEnumMemberName("scale-bias")]
    ScaleAndBias,
}

/// <summary>What a number is read from when the file has several channels.</summary>
[JsonConverter(typeof(WordConverter<GreySource>))]
public enum GreySource
{
    /// <summary>The first channel.</summary>
    [JsonStringEnumMemberName("first")]
    First,

    [JsonStringEnumMemberName("luminance")]
    [FormerWord("automatic")]
    Luminance,

    /// <summary>Alpha where the file has one, else luminance.</summary>
    [JsonStringEnumMemberName("alpha")]
    Alpha,
}

/// <summary>The body of a surface.</summary>
[JsonConverter(typeof(WordConverter<DiffuseWord>))]
public enum DiffuseWord
{
    [JsonStringEnumMemberName("eon")]
    Eon,

    [JsonStringEnumMemberName("lambert")]
    Lambert,

    [JsonStringEnumMemberName("orenNayar")]
    OrenNayar,
}

/// <summary>Reflection of a dielectric.</summary>
[JsonConverter(typeof(WordConverter<DielectricWord>))]
public enum DielectricWord
{
    [JsonStringEnumMemberName("exact")]
    Exact,

    [JsonStringEnumMemberName("schlick")]
    Schlick,
}

/// <summary>Reflection of a metal.</summary>
[JsonConverter(typeof(WordConverter<MetalWord>))]
public enum MetalWord
{
    [JsonStringEnumMemberName("f82")]
    F82,

    [JsonStringEnumMemberName("schlick")]
    Schlick,

    [JsonStringEnumMemberName("conductor")]
    Conductor,
}

/// <summary>Distribution of facets.</summary>
[JsonConverter(typeof(WordConverter<DistributionWord>))]
public enum DistributionWord
{
    [JsonStringEnumMemberName("ggx")]
    Ggx,

    [JsonStringEnumMemberName("beckmann")]
    Beckmann,
}

/// <summary>Reflection of fibres.</summary>
[JsonConverter(typeof(WordConverter<FuzzWord>))]
public enum FuzzWord
{
    [JsonStringEnumMemberName("zeltner")]
    Zeltner,

    [JsonStringEnumMemberName("charlie")]
    Charlie,
}

/// <summary>The colour of a coat.</summary>
[JsonConverter(typeof(WordConverter<CoatWord>))]
public enum CoatWord
{
    /// <summary>It deepens with the way through the coat.</summary>
    [JsonStringEnumMemberName("absorbing")]
    Absorbing,

    /// <summary>One tint from every side.</summary>
    [JsonStringEnumMemberName("tint")]
    Tint,
}
