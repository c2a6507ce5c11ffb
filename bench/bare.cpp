// A bare path tracer: Embree 3, two threads, single rays. It follows the same kinds of paths over the same triangles as a proof, with as many
// rays and the same lookups in six maps with all their copies, and has no surface model, no layers, no noise and no floor to speak of: what it
// costs to follow light at all. Run by bench/bare.sh. Arguments: file with triangles and camera, seconds.
#include <embree3/rtcore.h>
#include <immintrin.h>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <limits>
#include <thread>
#include <vector>

struct V { float x, y, z; };
static V operator+(V a, V b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
static V operator-(V a, V b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
static V operator*(V a, float s) { return {a.x * s, a.y * s, a.z * s}; }
static V operator*(V a, V b) { return {a.x * b.x, a.y * b.y, a.z * b.z}; }
static float dot(V a, V b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
static V cross(V a, V b) { return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x}; }
static V unit(V a) { return a * (1 / std::sqrt(dot(a, a))); }

// Six maps of 2048 x 2048 with copies by halves: three of three half floats, three of single floats.
struct Map
{
    int components;
    std::vector<std::vector<uint16_t>> halves;
    std::vector<std::vector<float>> floats;
    std::vector<int> sides;
    Map(int components, uint32_t seed) : components(components)
    {
        for (int side = 2048; side >= 1; side /= 2)
        {
            sides.push_back(side);
            if (components == 1) floats.emplace_back((size_t)side * side);
            else halves.emplace_back((size_t)side * side * 3 + 1);
            size_t n = components == 1 ? floats.back().size() : halves.back().size();
            for (size_t i = 0; i < n; i++)
            {
                seed = seed * 1664525u + 1013904223u;
                float v = 0.1f + 0.7f * (seed >> 8) / 16777216.0f;
                if (components == 1) floats.back()[i] = v;
                else halves.back()[i] = _cvtss_sh(v, 0);
            }
        }
    }
    V texel(int level, int x, int y) const
    {
        int side = sides[level];
        size_t at = (size_t)y * side + x;
        if (components == 1) { float v = floats[level][at]; return {v, v, v}; }
        uint64_t bits;
        __builtin_memcpy(&bits, &halves[level][3 * at], 8);
        __m128 v = _mm_cvtph_ps(_mm_cvtsi64_si128((long long)bits));
        return {v[0], v[1], v[2]};
    }
    V bilinear(int level, float u, float v) const
    {
        int side = sides[level];
        float x = (u - std::floor(u)) * side - 0.5f, y = (1 - (v - std::floor(v))) * side - 0.5f;
        int x0 = (int)std::floor(x), y0 = (int)std::floor(y);
        float fx = x - x0, fy = y - y0;
        int mask = side - 1, x1 = (x0 + 1) & mask, y1 = (y0 + 1) & mask;
        x0 &= mask;
        y0 &= mask;
        V a = texel(level, x0, y0), b = texel(level, x1, y0), c = texel(level, x0, y1), d = texel(level, x1, y1);
        V top = a + (b - a) * fx, bottom = c + (d - c) * fx;
        return top + (bottom - top) * fy;
    }
    V sample(float u, float v, float footprint) const
    {
        float level = std::log2(std::fmax(footprint * 2048, 1e-6f));
        if (level <= 0) return bilinear(0, u, v);
        if (level >= sides.size() - 1) return bilinear(sides.size() - 1, u, v);
        int lower = (int)level;
        V a = bilinear(lower, u, v);
        return a + (bilinear(lower + 1, u, v) - a) * (level - lower);
    }
};

struct Random
{
    uint64_t state;
    float next()
    {
        state = state * 6364136223846793005ull + 1442695040888963407ull;
        return (uint32_t)(state >> 40) / 16777216.0f;
    }
};

int main(int, char** arguments)
{
    FILE* file = fopen(arguments[1], "rb");
    int counts[3]; // vertices, triangles, triangles of the form
    float camera[14]; // eye, forward, right, up, tangent, metres to a unit of UV
    if (!file || fread(counts, 4, 3, file) != 3 || fread(camera, 4, 14, file) != 14) return 1;
    RTCDevice device = rtcNewDevice("threads=1");
    RTCScene scene = rtcNewScene(device);
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    void* vertices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, counts[0]);
    unsigned* indices = (unsigned*)rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, counts[1]);
    std::vector<float> uvs(2 * (size_t)counts[0]);
    if (fread(vertices, 12, counts[0], file) != (size_t)counts[0] || fread(indices, 12, counts[1], file) != (size_t)counts[1] || fread(uvs.data(), 8, counts[0], file) != (size_t)counts[0]) return 1;
    rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_HIGH);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcSetSceneBuildQuality(scene, RTC_BUILD_QUALITY_HIGH);
    rtcCommitScene(scene);
    std::vector<Map> maps;
    for (int i = 0; i < 6; i++) maps.emplace_back(i == 0 || i == 3 || i == 5 ? 3 : 1, 17u + i);
    V eye{camera[0], camera[1], camera[2]}, forward{camera[3], camera[4], camera[5]}, right{camera[6], camera[7], camera[8]}, up{camera[9], camera[10], camera[11]};
    float tangent = camera[12], uvPerMetre = camera[13];
    const int side = 512;
    std::vector<V> picture(side * side);
    auto tile = [&](int at, long& rays, long& lookups)
    {
        const int across = side / 16;
        for (int p = 0; p < 256; p++)
        {
            int x = at % across * 16 + p % 16, y = at / across * 16 + p / 16;
            Random random{(uint64_t)(y * side + x) * 0x9e3779b97f4a7c15ull + 1};
            V sum{0, 0, 0};
            for (int s = 0; s < 4; s++)
            {
                V origin = eye, through{1, 1, 1};
                V direction = unit(forward + right * ((2 * (x + random.next()) / side - 1) * tangent) + up * ((1 - 2 * (y + random.next()) / side) * tangent));
                float way = 0;
                for (int bounce = 0; bounce < 64; bounce++)
                {
                    RTCIntersectContext context;
                    rtcInitIntersectContext(&context);
                    RTCRayHit hit{};
                    hit.ray = {origin.x, origin.y, origin.z, 1e-4f, direction.x, direction.y, direction.z, 0, std::numeric_limits<float>::infinity(), 0xffffffffu, 0, 0};
                    hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
                    rtcIntersect1(scene, &context, &hit);
                    rays++;
                    if (hit.hit.geomID == RTC_INVALID_GEOMETRY_ID) { sum = sum + through * (0.5f + 0.5f * direction.y); break; }
                    way += hit.ray.tfar;
                    V normal = unit(V{hit.hit.Ng_x, hit.hit.Ng_y, hit.hit.Ng_z});
                    if (dot(normal, direction) > 0) normal = normal * -1;
                    V albedo{0.22f, 0.22f, 0.22f};
                    if ((int)hit.hit.primID < counts[2])
                    {
                        unsigned* corner = indices + 3 * hit.hit.primID;
                        float w = 1 - hit.hit.u - hit.hit.v;
                        float u = uvs[2 * corner[0]] * w + uvs[2 * corner[1]] * hit.hit.u + uvs[2 * corner[2]] * hit.hit.v;
                        float v = uvs[2 * corner[0] + 1] * w + uvs[2 * corner[1] + 1] * hit.hit.u + uvs[2 * corner[2] + 1] * hit.hit.v;
                        float footprint = (bounce == 0 ? tangent / side : 0.2f) * way * uvPerMetre;
                        V all{0, 0, 0};
                        for (const Map& map : maps) all = all + map.sample(u, v, footprint);
                        albedo = all * (1 / 6.0f);
                        lookups += 6;
                    }
                    V at = origin + direction * hit.ray.tfar;
                    V tangentX = unit(std::fabs(normal.x) > 0.9f ? cross(normal, V{0, 1, 0}) : cross(normal, V{1, 0, 0})), tangentY = cross(normal, tangentX);
                    auto around = [&]()
                    {
                        float u = random.next(), turn = 6.2831853f * random.next(), r = std::sqrt(u);
                        return tangentX * (r * std::cos(turn)) + tangentY * (r * std::sin(turn)) + normal * std::sqrt(1 - u);
                    };
                    V toward = around();
                    // As seldom as a proof asks on the mean.
                    if (random.next() < 0.8f)
                    {
                        RTCRay shadow{at.x, at.y, at.z, 1e-4f, toward.x, toward.y, toward.z, 0, std::numeric_limits<float>::infinity(), 0xffffffffu, 0, 0};
                        rtcOccluded1(scene, &context, &shadow);
                        rays++;
                        if (shadow.tfar > 0) sum = sum + through * albedo * (0.5f + 0.5f * toward.y);
                    }
                    through = through * albedo;
                    float most = std::fmax(through.x, std::fmax(through.y, through.z));
                    if (bounce >= 2) { if (random.next() >= most) break; through = through * (1 / most); }
                    origin = at;
                    direction = around();
                }
            }
            picture[y * side + x] = sum;
        }
    };
    double best = 0, perSample = 0, perLookup = 0;
    auto start = std::chrono::steady_clock::now();
    while (std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() < atof(arguments[2]))
    {
        std::atomic<int> next{0};
        std::atomic<long> all{0}, looked{0};
        auto from = std::chrono::steady_clock::now();
        auto work = [&]()
        {
            long rays = 0, lookups = 0;
            for (int t; (t = next++) < side * side / 256;) tile(t, rays, lookups);
            all += rays;
            looked += lookups;
        };
        std::thread other(work);
        work();
        other.join();
        double rate = all / std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
        if (rate > best) best = rate;
        perSample = (double)all / (4.0 * side * side);
        perLookup = (double)looked / all;
    }
    printf("%.3f %.3f %.3f\n", best / 1e6, perSample, perLookup);
}
