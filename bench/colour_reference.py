"""OpenColorIO's CPU processor on the same numbers; says the seconds that each request took."""
import array, sys, time
import PyOpenColorIO as o

raw = o.Config.CreateRaw()
processors = {
    "texture": raw.getProcessor(o.GroupTransform([
        o.ExponentWithLinearTransform(gamma=[2.4, 2.4, 2.4, 1], offset=[0.055, 0.055, 0.055, 0]),
        o.BuiltinTransform("UTILITY - ACES-AP1_to_LINEAR-REC709_BFD", o.TRANSFORM_DIR_INVERSE)])).getDefaultCPUProcessor(),
    "view": raw.getProcessor(o.GroupTransform([
        o.BuiltinTransform("ACEScg_to_ACES2065-1"),
        o.BuiltinTransform("ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0"),
        o.BuiltinTransform("DISPLAY - CIE-XYZ-D65_to_sRGB")])).getDefaultCPUProcessor(),
}
sizes = {"texture": 4096 * 4096, "view": 1920 * 1080}
unit = array.array("f", [i / 1000 for i in range(1000)])
for line in sys.stdin:
    name = line.strip()
    pixels = (unit * (sizes[name] * 3 // 1000 + 1))[:sizes[name] * 3]
    began = time.perf_counter()
    processors[name].applyRGB(pixels)
    print(time.perf_counter() - began, flush=True)
