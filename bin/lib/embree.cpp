// Times Embree on a set of rays, one core: for `npm run bench`, where its development files are installed.
//
// embree RAYS: a file of 32-bit numbers, little-endian: counts of vertices, triangles and rays; 3 floats a vertex, 3 indices a triangle, 8 floats a ray
// (origin, least distance, direction, most). Prints a line: closest hits and occlusions a second, and how many rays met something.
#include <embree3/rtcore.h>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <vector>

static double secondsSince(std::chrono::steady_clock::time_point begin) {
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

template <typename T> static std::vector<T> readMany(FILE *file, size_t count) {
  std::vector<T> out(count);
  if (fread(out.data(), sizeof(T), count, file) != count) throw 1;
  return out;
}

static RTCRay rayFrom(const float *r) {
  RTCRay ray = {};
  ray.org_x = r[0], ray.org_y = r[1], ray.org_z = r[2], ray.tnear = r[3];
  ray.dir_x = r[4], ray.dir_y = r[5], ray.dir_z = r[6], ray.tfar = r[7];
  ray.mask = ~0u;
  return ray;
}

int main(int count, char **args) {
  FILE *file = count == 2 ? fopen(args[1], "rb") : nullptr;
  if (!file) return 2;
  const auto sizes = readMany<uint32_t>(file, 3);
  const auto positions = readMany<float>(file, sizes[0] * size_t(3));
  const auto indices = readMany<uint32_t>(file, sizes[1] * size_t(3));
  const auto rays = readMany<float>(file, sizes[2] * size_t(8));
  fclose(file);

  RTCDevice device = rtcNewDevice("threads=1");
  RTCScene scene = rtcNewScene(device);
  RTCGeometry mesh = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
  memcpy(rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, sizes[0]), positions.data(), positions.size() * 4);
  memcpy(rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, sizes[1]), indices.data(), indices.size() * 4);
  rtcCommitGeometry(mesh);
  rtcAttachGeometry(scene, mesh);
  rtcCommitScene(scene);

  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  size_t met = 0;
  auto begin = std::chrono::steady_clock::now();
  for (size_t i = 0; i < sizes[2]; i++) {
    RTCRayHit hit = {};
    hit.ray = rayFrom(&rays[i * 8]);
    hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(scene, &context, &hit);
    if (hit.hit.geomID != RTC_INVALID_GEOMETRY_ID) met++;
  }
  const double closest = sizes[2] / secondsSince(begin);
  begin = std::chrono::steady_clock::now();
  for (size_t i = 0; i < sizes[2]; i++) {
    RTCRay ray = rayFrom(&rays[i * 8]);
    rtcOccluded1(scene, &context, &ray);
  }
  printf("%.0f %.0f %zu\n", closest, sizes[2] / secondsSince(begin), met);
  return 0;
}
