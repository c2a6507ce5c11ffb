using System.Numerics;

namespace Kiln.Proof.Rendering;

/// <summary>A camera in place: from pixels to rays, and from points back to pixels.</summary>
public readonly struct CameraFrame
{
    private readonly Vector3 forward,
        right,
        up;
    private readonly float tangent;
    private readonly int width,
        height;

    /// <param name="centre">What the camera turns around.</param>
    /// <param name="radius">Of the sphere around the form, in metres.</param>
    public CameraFrame(OrbitCamera camera, Vector3 centre, float radius, int width, int height)
    {
        (this.width, this.height) = (width, height);
        var (sinYaw, cosYaw) = MathF.SinCos(camera.YawDegrees * MathF.PI / 180f);
        var (sinPitch, cosPitch) = MathF.SinCos(Math.Clamp(camera.PitchDegrees, -89, 89) * MathF.PI / 180f);
        var outward = new Vector3(cosPitch * sinYaw, sinPitch, cosPitch * cosYaw);
        tangent = MathF.Tan(OrbitCamera.FieldOfViewDegrees * MathF.PI / 360f);
        var distance = radius * 0.92f / MathF.Sin(OrbitCamera.FieldOfViewDegrees * MathF.PI / 360f) / Math.Clamp(camera.Zoom, 0.1f, 50f);
        forward = -outward;
        right = Vector3.Normalize(Vector3.Cross(forward, Vector3.UnitY));
        up = Vector3.Cross(right, forward);
        Eye = centre + outward * distance + (right * camera.ShiftX + up * camera.ShiftY) * radius;
    }

    public Vector3 Eye { get; }

    /// <summary>Angle that a pixel spans, in radians.</summary>
    public float Spread => 2 * tangent / height;

    /// <summary>Unit direction through a place of the picture, in pixels from the upper left.</summary>
    public Vector3 Direction(float x, float y) =>
        Vector3.Normalize(forward + right * ((2f * x / width - 1f) * tangent * width / height) + up * ((1f - 2f * y / height) * tangent));

    /// <summary>The same through eight places.</summary>
    internal Wide3 Direction(Wide x, Wide y) =>
        Wide3.Normalize(
            Wide3.Of(forward)
                + Wide3.Of(right) * ((2f / width * x - Wide.One) * (tangent * width / height))
                + Wide3.Of(up) * ((Wide.One - 2f / height * y) * tangent)
        );

    /// <summary>Where a point in front of the camera is seen, in pixels from the upper left.</summary>
    public Vector2 Project(Vector3 point)
    {
        var d = point - Eye;
        var depth = Vector3.Dot(d, forward);
        float x = Vector3.Dot(d, right) / (depth * tangent * width / height),
            y = Vector3.Dot(d, up) / (depth * tangent);
        return new((x + 1) * width / 2, (1 - y) * height / 2);
    }
}
