// Makes EXR files of every codec, sample type, layout and window with the OpenEXR library, reads each one again with it, and
// dumps what it read: FILE.raw holds, per part, level and channel in stored order, the samples in their own type.
// corpus make FOLDER      writes the files and prints a JSON list of them
// corpus check FILE...     the library's own checker over whole files (ImfCheckFile)
// corpus dump FILE...     writes FILE.raw for files made elsewhere; complains about files it cannot read
#include <ImfChannelList.h>
#include <ImfCheckFile.h>
#include <ImfChromaticitiesAttribute.h>
#include <ImfDeepFrameBuffer.h>
#include <ImfDeepScanLineOutputFile.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputPart.h>
#include <ImfMultiPartInputFile.h>
#include <ImfMultiPartOutputFile.h>
#include <ImfOutputPart.h>
#include <ImfPartType.h>
#include <ImfRgbaFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <ImfTileDescriptionAttribute.h>
#include <ImfTiledInputPart.h>
#include <ImfTiledOutputPart.h>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <iostream>
#include <string>
#include <vector>
using namespace OPENEXR_IMF_NAMESPACE;
using namespace IMATH_NAMESPACE;

static unsigned state = 1;
static float noise() { state = state * 1664525u + 1013904223u; return (state >> 8) / 16777216.0f; }
static int bytesOf(PixelType t) { return t == HALF ? 2 : 4; }

struct Channels {
    std::vector<std::string> names; std::vector<PixelType> types; std::vector<std::vector<char>> data;
    void allocate(const ChannelList &list, const Box2i &box) {
        names.clear(); types.clear(); data.clear();
        for (auto i = list.begin(); i != list.end(); ++i) {
            names.push_back(i.name()); types.push_back(i.channel().type);
            long nx = 0, ny = 0;
            for (int x = box.min.x; x <= box.max.x; x++) nx += modp(x, i.channel().xSampling) == 0;
            for (int y = box.min.y; y <= box.max.y; y++) ny += modp(y, i.channel().ySampling) == 0;
            data.push_back(std::vector<char>(nx * ny * bytesOf(i.channel().type), 0));
        }
    }
    static int modp(int a, int b) { int m = a % b; return m < 0 ? m + b : m; }
    FrameBuffer frame(const ChannelList &list, const Box2i &box) {
        FrameBuffer fb; size_t k = 0;
        for (auto i = list.begin(); i != list.end(); ++i, ++k) {
            int xs = i.channel().xSampling, ys = i.channel().ySampling, n = bytesOf(types[k]);
            long nx = 0;
            for (int x = box.min.x; x <= box.max.x; x++) nx += modp(x, xs) == 0;
            // the address of the sample at x = y = 0 of the sampled grid
            long firstX = (long) std::ceil(box.min.x / (double) xs), firstY = (long) std::ceil(box.min.y / (double) ys);
            fb.insert(names[k], Slice(types[k], data[k].data() - (firstY * nx + firstX) * n, n, n * nx, xs, ys));
        }
        return fb;
    }
    // A picture: ramps, flat parts, noise, light far above one, a few odd values where the codec keeps them.
    void fill(const Box2i &box, bool odd) {
        int w = box.max.x - box.min.x + 1;
        for (size_t k = 0; k < data.size(); k++) {
            size_t n = data[k].size() / bytesOf(types[k]);
            for (size_t i = 0; i < n; i++) {
                double x = double(i % w) / w, y = double(i / w) * w / (n + 1.0);
                double v = y < 0.25 ? 0.18 : y < 0.5 ? x : y < 0.75 ? std::sin(x * 9 + k) * 2 + noise() * 0.05 : noise() * std::pow(10, noise() * 4 - 2);
                if (k % 3 == 1 && y > 0.9) v = -v;
                if (types[k] == UINT) { unsigned u = y < 0.5 ? unsigned(i / 7) : state; noise(); memcpy(&data[k][i * 4], &u, 4); }
                else if (types[k] == HALF) {
                    half h = half(float(v));
                    if (odd && i % 97 == 5) h.setBits((unsigned short) (state >> 7));
                    memcpy(&data[k][i * 2], &h, 2);
                } else {
                    float f = float(v);
                    if (odd && i % 97 == 5) { unsigned b = state; memcpy(&f, &b, 4); }
                    memcpy(&data[k][i * 4], &f, 4);
                }
            }
        }
    }
};

static void dump(const std::string &name) {
    MultiPartInputFile file(name.c_str());
    FILE *out = fopen((name + ".raw").c_str(), "wb");
    for (int p = 0; p < file.parts(); p++) {
        const Header &h = file.header(p);
        if (h.hasTileDescription()) {
            TiledInputPart part(file, p);
            for (int ly = 0; ly < part.numYLevels(); ly++) for (int lx = 0; lx < part.numXLevels(); lx++) {
                if (!part.isValidLevel(lx, ly)) continue;
                Box2i box = part.dataWindowForLevel(lx, ly);
                Channels c; c.allocate(h.channels(), box);
                part.setFrameBuffer(c.frame(h.channels(), box));
                part.readTiles(0, part.numXTiles(lx) - 1, 0, part.numYTiles(ly) - 1, lx, ly);
                for (auto &d : c.data) fwrite(d.data(), 1, d.size(), out);
            }
        } else {
            InputPart part(file, p);
            Box2i box = h.dataWindow();
            Channels c; c.allocate(h.channels(), box);
            part.setFrameBuffer(c.frame(h.channels(), box));
            part.readPixels(box.min.y, box.max.y);
            for (auto &d : c.data) fwrite(d.data(), 1, d.size(), out);
        }
    }
    fclose(out);
}

static std::vector<std::string> made;
static const char *codecNames[] = {"none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"};

struct Plan { std::string types = "half"; int width = 75, height = 70, x = 0, y = 0, display[4] = {0, 0, 74, 69}; std::string tiles; LineOrder order = INCREASING_Y; int parts = 1; bool names = false; };

static void make(const std::string &folder, const std::string &label, int codec, const Plan &plan) {
    std::vector<Header> headers;
    for (int p = 0; p < plan.parts; p++) {
        Box2i display(V2i(plan.display[0], plan.display[1]), V2i(plan.display[2], plan.display[3]));
        Box2i window(V2i(plan.x, plan.y), V2i(plan.x + plan.width - 1, plan.y + plan.height - 1));
        Header h(display, window, 1, V2f(0, 0), 1, plan.order, Compression(codec));
        std::vector<std::string> names = {"R", "G", "B", "A", "Z", "key.R", "key.G", "key.B", "key.A", "N.X", "N.Y", "id"};
        if (plan.names) names = {std::string(255, 'n'), "sun light.R", "mist, thin.Y", "__proto__", "\xe6\xb8\xa1\xe3\x81\x97.R", "constructor.G"};
        if (plan.parts > 1) names = p == 0 ? std::vector<std::string>{"R", "G", "B", "A"} : p == 1 ? std::vector<std::string>{"Z"} : std::vector<std::string>{"diffuse.R", "diffuse.G", "diffuse.B", "id"};
        for (size_t i = 0; i < names.size(); i++) {
            PixelType t = plan.types == "half" ? HALF : plan.types == "float" ? FLOAT : plan.types == "uint" ? UINT
                : names[i] == "Z" || names[i][0] == 'N' ? FLOAT : names[i] == "id" ? UINT : HALF;
            h.channels().insert(names[i], Channel(t, 1, 1, plan.types == "linear" && i < 3));
        }
        if (plan.tiles == "one") h.setTileDescription(TileDescription(32, 24, ONE_LEVEL));
        if (plan.tiles == "mipdown") h.setTileDescription(TileDescription(16, 32, MIPMAP_LEVELS, ROUND_DOWN));
        if (plan.tiles == "mipup") h.setTileDescription(TileDescription(32, 16, MIPMAP_LEVELS, ROUND_UP));
        if (plan.tiles == "ripdown") h.setTileDescription(TileDescription(32, 32, RIPMAP_LEVELS, ROUND_DOWN));
        if (plan.tiles == "ripup") h.setTileDescription(TileDescription(32, 32, RIPMAP_LEVELS, ROUND_UP));
        h.setType(plan.tiles.empty() ? SCANLINEIMAGE : TILEDIMAGE);
        if (plan.parts > 1) h.setName("part " + std::to_string(p));
        h.insert("owner", StringAttribute("ferry landing"));
        headers.push_back(h);
    }
    std::string name = folder + "/" + codecNames[codec] + "_" + label + ".exr";
    {
        MultiPartOutputFile file(name.c_str(), headers.data(), plan.parts);
        bool odd = codec != B44_COMPRESSION && codec != B44A_COMPRESSION && codec < DWAA_COMPRESSION;
        for (int p = 0; p < plan.parts; p++) {
            const Header &h = headers[p];
            if (!plan.tiles.empty()) {
                TiledOutputPart part(file, p);
                for (int ly = 0; ly < part.numYLevels(); ly++) for (int lx = 0; lx < part.numXLevels(); lx++) {
                    if (!part.isValidLevel(lx, ly)) continue;
                    Box2i box = part.dataWindowForLevel(lx, ly);
                    Channels c; c.allocate(h.channels(), box); c.fill(box, odd);
                    part.setFrameBuffer(c.frame(h.channels(), box));
                    part.writeTiles(0, part.numXTiles(lx) - 1, 0, part.numYTiles(ly) - 1, lx, ly);
                }
            } else {
                OutputPart part(file, p);
                Channels c; c.allocate(h.channels(), h.dataWindow()); c.fill(h.dataWindow(), odd);
                part.setFrameBuffer(c.frame(h.channels(), h.dataWindow()));
                part.writePixels(plan.height);
            }
        }
    }
    dump(name);
    made.push_back(name);
}

static void makeLumaChroma(const std::string &folder, int codec) {
    std::string name = folder + "/" + codecNames[codec] + "_lumachroma.exr";
    int w = 62, h = 48;
    {
        Header header(w, h); header.compression() = Compression(codec);
        RgbaOutputFile out(name.c_str(), header, WRITE_YCA);
        std::vector<Rgba> pixels(w * h);
        for (int i = 0; i < w * h; i++) pixels[i] = Rgba(0.2f + (i % w) * 0.01f, 0.3f + noise() * 0.1f, 0.5f * (i / w) / h, 1);
        out.setFrameBuffer(pixels.data(), 1, w);
        out.writePixels(h);
    }
    dump(name);
    made.push_back(name);
    RgbaInputFile in(name.c_str());
    std::vector<Rgba> back(w * h);
    in.setFrameBuffer(back.data(), 1, w);
    in.readPixels(0, h - 1);
    FILE *f = fopen((name + ".rgba").c_str(), "wb");
    fwrite(back.data(), sizeof(Rgba), back.size(), f);
    fclose(f);
}

// One sample a pixel: enough to have a deep header, a deep table and deep chunks.
static void makeDeep(const std::string &name) {
    Header header(8, 4);
    header.channels().insert("Z", Channel(FLOAT));
    header.setType(DEEPSCANLINE);
    header.compression() = ZIPS_COMPRESSION;
    std::vector<unsigned> counts(32, 1);
    std::vector<float> z(32, 1.5f);
    std::vector<float *> samples(32);
    for (int i = 0; i < 32; i++) samples[i] = &z[i];
    DeepFrameBuffer fb;
    fb.insertSampleCountSlice(Slice(UINT, (char *) counts.data(), 4, 32));
    fb.insert("Z", DeepSlice(FLOAT, (char *) samples.data(), sizeof(float *), sizeof(float *) * 8, sizeof(float)));
    DeepScanLineOutputFile out(name.c_str(), header);
    out.setFrameBuffer(fb);
    out.writePixels(4);
}

int main(int argc, char **argv) {
    std::string verb = argv[1];
    if (verb == "check") {
        int bad = 0;
        for (int i = 2; i < argc; i++)
            if (checkOpenEXRFile(argv[i], false, false)) { std::cerr << argv[i] << ": the checker finds fault with it\n"; bad = 1; }
        return bad;
    }
    if (verb == "dump") {
        int bad = 0;
        for (int i = 2; i < argc; i++) {
            try { dump(argv[i]); }
            catch (const std::exception &e) { std::cerr << argv[i] << ": " << e.what() << "\n"; bad = 1; }
        }
        return bad;
    }
    std::string folder = argv[2];
    for (int codec = 0; codec < 10; codec++) {
        for (std::string types : {"half", "float", "uint", "mixed", "linear"}) { Plan p; p.types = types; make(folder, types, codec, p); }
        for (std::string tiles : {"one", "mipdown", "mipup", "ripdown", "ripup"}) { Plan p; p.types = "mixed"; p.tiles = tiles; make(folder, "tiles_" + tiles, codec, p); }
        { Plan p; p.types = "mixed"; p.order = DECREASING_Y; make(folder, "upwards", codec, p); }
        { Plan p; p.types = "mixed"; p.tiles = "one"; p.order = RANDOM_Y; make(folder, "tiles_random", codec, p); }
        { Plan p; p.types = "mixed"; p.x = -17; p.y = -9; p.width = 40; p.height = 33; make(folder, "window_negative", codec, p); }
        { Plan p; p.types = "mixed"; p.x = 60; p.y = 50; p.width = 130; p.height = 41; make(folder, "window_beyond", codec, p); }
        { Plan p; p.types = "mixed"; p.x = 5; p.y = 7; p.width = 1; p.height = 1; make(folder, "one_pixel", codec, p); }
        { Plan p; p.types = "mixed"; p.x = -3; p.y = -5; p.width = 37; p.height = 29; p.tiles = "mipdown"; make(folder, "tiles_negative", codec, p); }
        { Plan p; p.width = 1; p.height = 300; make(folder, "column", codec, p); }
        { Plan p; p.names = true; make(folder, "names", codec, p); }
        { Plan p; p.types = "mixed"; p.parts = 3; make(folder, "parts", codec, p); }
        { Plan p; p.types = "mixed"; p.parts = 3; p.tiles = "one"; make(folder, "parts_tiled", codec, p); }
        makeLumaChroma(folder, codec);
    }
    makeDeep(folder + "/deep.exr");
    std::cout << "[";
    for (size_t i = 0; i < made.size(); i++) std::cout << (i ? "," : "") << "\"" << made[i] << "\"";
    std::cout << "]\n";
}
