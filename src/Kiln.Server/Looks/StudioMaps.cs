using Kiln.Analysis.Findings;
using Kiln.Looks.Evaluation;
using Kiln.Store.Contents;

namespace Kiln.Server.Looks;

/// <summary>The maps of the studio: where they lie, what they hold, what was measured of them.</summary>
public sealed record StudioMaps(ContentStore Store, MapTextures Textures, MapMeasuring Measuring);
