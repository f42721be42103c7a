// The measure for bench/encode.ts: reads a file once and writes it again and again with the OpenEXR library.
// encode THREADS RUNS CODEC IN OUT   prints milliseconds of every run, one line
#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfThreading.h>
#include <chrono>
#include <iostream>
#include <string>
#include <vector>
using namespace OPENEXR_IMF_NAMESPACE;
using namespace IMATH_NAMESPACE;

int main(int, char **argv) {
    int threads = atoi(argv[1]), runs = atoi(argv[2]), codec = atoi(argv[3]);
    setGlobalThreadCount(threads > 1 ? threads : 0);
    InputFile in(argv[4]);
    Box2i box = in.header().dataWindow();
    int w = box.max.x - box.min.x + 1, h = box.max.y - box.min.y + 1;
    std::vector<std::vector<half>> planes;
    FrameBuffer fb;
    Header header(w, h);
    header.compression() = Compression(codec);
    for (auto i = in.header().channels().begin(); i != in.header().channels().end(); ++i) {
        planes.emplace_back((size_t) w * h);
        fb.insert(i.name(), Slice(HALF, (char *) planes.back().data(), 2, 2 * w));
        header.channels().insert(i.name(), Channel(HALF));
    }
    in.setFrameBuffer(fb);
    in.readPixels(0, h - 1);
    for (int r = 0; r <= runs; r++) {
        auto start = std::chrono::steady_clock::now();
        {
            OutputFile out(argv[5], header);
            out.setFrameBuffer(fb);
            out.writePixels(h);
        }
        std::chrono::duration<double, std::milli> ms = std::chrono::steady_clock::now() - start;
        if (r > 0) std::cout << ms.count() << (r < runs ? " " : "\n");
    }
}
