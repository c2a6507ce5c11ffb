// The same triangles and rays by Embree 3, one thread, single rays; run by bench/traversal.sh. Arguments: file, seconds.
#include <embree3/rtcore.h>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <limits>
#include <vector>

int main(int, char** arguments)
{
    FILE* file = fopen(arguments[1], "rb");
    int counts[3];
    if (!file || fread(counts, 4, 3, file) != 3) return 1;
    RTCDevice device = rtcNewDevice("threads=1");
    RTCScene scene = rtcNewScene(device);
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    void* vertices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, counts[0]);
    void* indices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, counts[1]);
    std::vector<float> rays(6 * (size_t)counts[2]);
    if (fread(vertices, 12, counts[0], file) != (size_t)counts[0] || fread(indices, 12, counts[1], file) != (size_t)counts[1] || fread(rays.data(), 24, counts[2], file) != (size_t)counts[2]) return 1;
    rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_HIGH);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcSetSceneBuildQuality(scene, RTC_BUILD_QUALITY_HIGH);
    rtcCommitScene(scene);
    double best = 0, sum = 0;
    long met = 0;
    auto start = std::chrono::steady_clock::now();
    while (std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() < atof(arguments[2]))
    {
        met = 0;
        sum = 0;
        auto from = std::chrono::steady_clock::now();
        for (int i = 0; i < counts[2]; i++)
        {
            const float* r = &rays[6 * (size_t)i];
            RTCIntersectContext context;
            rtcInitIntersectContext(&context);
            RTCRayHit hit{};
            hit.ray = {r[0], r[1], r[2], 0, r[3], r[4], r[5], 0, std::numeric_limits<float>::infinity(), 0xffffffffu, 0, 0};
            hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
            rtcIntersect1(scene, &context, &hit);
            if (hit.hit.geomID != RTC_INVALID_GEOMETRY_ID) { met++; sum += hit.ray.tfar; }
        }
        double rate = counts[2] / std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
        if (rate > best) best = rate;
    }
    printf("%.3f %ld %.5f\n", best / 1e6, met, sum / met);
}
