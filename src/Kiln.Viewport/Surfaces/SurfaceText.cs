using System.Text;
using Kiln.Scattering;

namespace Kiln.Viewport.Surfaces;

/// <summary>
/// The surface model as GLSL ES 3.0: the lobes of Kiln.Scattering, the formulas chosen by the dialect's model. It reads the directional
/// albedos from <c>uAlbedo</c> (<see cref="Scattering.Albedo.AlbedoLayers"/>) and, for films, <c>uFromXyz</c>.
/// </summary>
public static class SurfaceText
{
    public const string Albedo = "uAlbedo",
        FromXyz = "uFromXyz";

    public static string Of(SurfaceModel model, SurfaceLobes lobes)
    {
        var text = new StringBuilder();
        void Define(string name, bool on) => text.Append($"#define KILN_{name} {(on ? 1 : 0)}\n");
        Define("LAMBERT", model.Diffuse == DiffuseModel.Lambert);
        Define("OREN_NAYAR", model.Diffuse == DiffuseModel.OrenNayar);
        Define("EXACT", model.Dielectric == DielectricModel.Exact);
        Define("METAL_F82", model.Metal == MetalModel.F82);
        Define("METAL_CONDUCTOR", model.Metal == MetalModel.Conductor);
        Define("COMPENSATED", model.Compensation);
        Define("BECKMANN", model.Distribution == Distribution.Beckmann);
        Define("FUZZ_CHARLIE", model.Fuzz == FuzzModel.Charlie);
        Define("COAT_ABSORBS", model.CoatAbsorbs);
        Define("METAL", lobes.Metal);
        Define("COAT", lobes.Coat);
        Define("FUZZ", lobes.Fuzz);
        Define("FILM", lobes.Film);
        Define("THROUGH", lobes.Through);
        Define("SHEET", lobes.Sheet);
        return text.Append($"uniform highp sampler2DArray {Albedo};\nuniform mat3 {FromXyz};\n")
            .Append(ShaderText.Of("surface"))
            .ToString();
    }

    /// <summary><see cref="SurfaceModel.FromXyz"/> for <c>uFromXyz</c>, column by column.</summary>
    public static float[] Matrix(SurfaceModel model)
    {
        // System.Numerics multiplies rows, GLSL columns: the rows of the one are the columns of the other.
        var m = model.FromXyz;
        return [m.M11, m.M12, m.M13, m.M21, m.M22, m.M23, m.M31, m.M32, m.M33];
    }
}
