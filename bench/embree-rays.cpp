// Any-hit rays of Embree (libembree-dev), one ray at a time on one core, on the triangles and rays of a file:
// 32-bit counts of vertices, triangles and rays; the farthest distance as a float; xyz a vertex; three indices a triangle;
// origin and unit direction a ray. Prints hits and seconds.
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <vector>
#if __has_include(<embree4/rtcore.h>)
#include <embree4/rtcore.h>
#else
#include <embree3/rtcore.h>
#endif

template <class T> static std::vector<T> take(FILE *file, size_t count) {
  std::vector<T> out(count);
  if (fread(out.data(), sizeof(T), count, file) != count) throw 1;
  return out;
}

int main(int, char **argv) {
  FILE *file = fopen(argv[1], "rb");
  auto counts = take<uint32_t>(file, 3);
  float reach = take<float>(file, 1)[0];
  auto positions = take<float>(file, counts[0] * 3);
  auto indices = take<uint32_t>(file, counts[1] * 3);
  auto rays = take<float>(file, counts[2] * 6);
  RTCDevice device = rtcNewDevice("threads=1");
  RTCScene scene = rtcNewScene(device);
  RTCGeometry mesh = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
  float *v = (float *)rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, counts[0]);
  for (size_t i = 0; i < positions.size(); i++) v[i] = positions[i];
  uint32_t *f = (uint32_t *)rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, counts[1]);
  for (size_t i = 0; i < indices.size(); i++) f[i] = indices[i];
  rtcCommitGeometry(mesh);
  rtcAttachGeometry(scene, mesh);
  rtcCommitScene(scene);
  size_t hits = 0;
  double best = 1e9;
  for (int round = 0; round < 3; round++) {
    hits = 0;
    auto start = std::chrono::steady_clock::now();
    for (uint32_t i = 0; i < counts[2]; i++) {
      RTCRay ray;
      ray.org_x = rays[i * 6], ray.org_y = rays[i * 6 + 1], ray.org_z = rays[i * 6 + 2];
      ray.dir_x = rays[i * 6 + 3], ray.dir_y = rays[i * 6 + 4], ray.dir_z = rays[i * 6 + 5];
      ray.tnear = 0, ray.tfar = reach, ray.time = 0, ray.mask = -1, ray.flags = 0;
#if RTC_VERSION_MAJOR >= 4
      rtcOccluded1(scene, &ray, nullptr);
#else
      RTCIntersectContext context;
      rtcInitIntersectContext(&context);
      rtcOccluded1(scene, &context, &ray);
#endif
      if (ray.tfar < 0) hits++;
    }
    double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    if (took < best) best = took;
  }
  printf("%zu %f\n", hits, best);
}
