// The measure for `june bench decode`: makes files and reads them with the OpenEXR library.
// decode make FOLDER all|rgba           24 half channels, or four, 1920x1080, one file per codec
// decode read THREADS RUNS FILE [CHANNEL...]   prints milliseconds of every run, one line
#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfThreading.h>
#include <chrono>
#include <cmath>
#include <iostream>
#include <set>
#include <string>
#include <vector>
using namespace OPENEXR_IMF_NAMESPACE;
using namespace IMATH_NAMESPACE;

static unsigned state = 1;
static float noise() { state = state * 1664525u + 1013904223u; return (state >> 8) / 16777216.0f; }

int main(int argc, char **argv) {
    std::string verb = argv[1];
    if (verb == "make") {
        const int w = 1920, h = 1080;
        const char *names[] = {"none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"};
        std::vector<std::vector<half>> planes;
        std::vector<std::string> channels;
        for (int k = 0; k < 8; k++) for (const char *c : {"R", "G", "B"}) {
            channels.push_back(k ? "pass" + std::to_string(k) + "." + c : c);
            std::vector<half> p(w * h);
            // Like a render: smooth shading, edges, black where a light does not reach, a little grain.
            for (int y = 0; y < h; y++) for (int x = 0; x < w; x++) {
                double u = x / 300.0 + k, v = y / 200.0;
                double shade = 0.4 + 0.3 * std::sin(u) * std::cos(v) + (std::sin(u * 3 + v * 2) > 0.6 ? 0.8 : 0);
                bool dark = k > 2 && std::sin(u * 1.3 + v * k) < 0.1 * k;
                p[y * w + x] = dark ? 0.0f : float(shade * (1 + 0.02 * (noise() - 0.5)));
            }
            planes.push_back(std::move(p));
        }
        if (std::string(argv[3]) == "rgba") {
            channels = {"R", "G", "B", "A"};
            planes.resize(4);
        }
        for (int codec = 0; codec < 10; codec++) {
            Header header(w, h); header.compression() = Compression(codec);
            FrameBuffer fb;
            for (size_t i = 0; i < channels.size(); i++) {
                header.channels().insert(channels[i], Channel(HALF));
                fb.insert(channels[i], Slice(HALF, (char *) planes[i].data(), 2, 2 * w));
            }
            OutputFile out((std::string(argv[2]) + "/" + names[codec] + ".exr").c_str(), header);
            out.setFrameBuffer(fb); out.writePixels(h);
        }
        return 0;
    }
    int threads = atoi(argv[2]), runs = atoi(argv[3]);
    setGlobalThreadCount(threads > 1 ? threads : 0);
    std::set<std::string> wanted(argv + 5, argv + argc);
    // Planes are made once and stay: what is timed is reading, not fresh memory.
    std::vector<std::vector<half>> planes;
    for (int r = 0; r <= runs; r++) {
        auto start = std::chrono::steady_clock::now();
        InputFile in(argv[4]);
        Box2i box = in.header().dataWindow();
        int w = box.max.x - box.min.x + 1, h = box.max.y - box.min.y + 1;
        FrameBuffer fb;
        size_t k = 0;
        for (auto i = in.header().channels().begin(); i != in.header().channels().end(); ++i) {
            if (wanted.size() && !wanted.count(i.name())) continue;
            if (r == 0) planes.emplace_back(w * h);
            fb.insert(i.name(), Slice(HALF, (char *) (planes[k++].data() - box.min.x - box.min.y * w), 2, 2 * w));
        }
        in.setFrameBuffer(fb); in.readPixels(box.min.y, box.max.y);
        std::chrono::duration<double, std::milli> ms = std::chrono::steady_clock::now() - start;
        if (r > 0) std::cout << ms.count() << (r < runs ? " " : "\n");
    }
}
