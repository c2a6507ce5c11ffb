"""Pictures of a page in numbers. ΔE2000 after Sharma, Wu and Dalal 2005, on displayed sRGB values with the white of D65."""
import math, struct, zlib


def png(data):
    """Rows of a PNG of 8 bits and three or four channels, as triples."""
    at, idat = 8, b""
    while at < len(data):
        length, kind = struct.unpack(">I4s", data[at : at + 8])
        body = data[at + 8 : at + 8 + length]
        if kind == b"IHDR":
            width, height, _, colour = struct.unpack(">IIBB", body[:10])
        if kind == b"IDAT":
            idat += body
        at += 12 + length
    n = 4 if colour == 6 else 3
    raw, rows, before = zlib.decompress(idat), [], bytearray(width * n)
    for y in range(height):
        kind, line = raw[y * (width * n + 1)], bytearray(raw[y * (width * n + 1) + 1 : (y + 1) * (width * n + 1)])
        for i in range(len(line)):
            a, b, c = (line[i - n] if i >= n else 0), before[i], (before[i - n] if i >= n else 0)
            p = a + b - c
            line[i] = (line[i] + [0, a, b, (a + b) // 2, a if abs(p - a) <= abs(p - b) and abs(p - a) <= abs(p - c) else b if abs(p - b) <= abs(p - c) else c][kind]) & 255
        rows.append([tuple(line[i : i + 3]) for i in range(0, len(line), n)])
        before = line
    return rows


LINEAR = [v / 255 / 12.92 if v <= 10 else ((v / 255 + 0.055) / 1.055) ** 2.4 for v in range(256)]


def lab(rgb):
    r, g, b = (LINEAR[v] for v in rgb)
    f = lambda t: t ** (1 / 3) if t > 216 / 24389 else (24389 / 27 * t + 16) / 116
    x, y, z = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047), f(0.2126729 * r + 0.7151522 * g + 0.0721750 * b), f((0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883)
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


def delta(one, two):
    (l1, a1, b1), (l2, a2, b2) = one, two
    c = (math.hypot(a1, b1) + math.hypot(a2, b2)) / 2
    g = 0.5 * (1 - math.sqrt(c**7 / (c**7 + 25**7)))
    p1, p2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = math.hypot(p1, b1), math.hypot(p2, b2)
    h1, h2 = math.degrees(math.atan2(b1, p1)) % 360, math.degrees(math.atan2(b2, p2)) % 360
    dh = 0 if c1 * c2 == 0 else (h2 - h1 + 180) % 360 - 180
    dl, dc, dH = l2 - l1, c2 - c1, 2 * math.sqrt(c1 * c2) * math.sin(math.radians(dh / 2))
    lm, cm = (l1 + l2) / 2, (c1 + c2) / 2
    hm = h1 + h2 if c1 * c2 == 0 else (h1 + h2) / 2 if abs(h1 - h2) <= 180 else ((h1 + h2 + 360) / 2) % 360
    t = 1 - 0.17 * math.cos(math.radians(hm - 30)) + 0.24 * math.cos(math.radians(2 * hm)) + 0.32 * math.cos(math.radians(3 * hm + 6)) - 0.2 * math.cos(math.radians(4 * hm - 63))
    sl, sc, sh = 1 + 0.015 * (lm - 50) ** 2 / math.sqrt(20 + (lm - 50) ** 2), 1 + 0.045 * cm, 1 + 0.015 * cm * t
    turn = -math.sin(math.radians(60 * math.exp(-(((hm - 275) / 25) ** 2)))) * 2 * math.sqrt(cm**7 / (cm**7 + 25**7))
    return math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dH / sh) ** 2 + turn * dc / sc * dH / sh)
