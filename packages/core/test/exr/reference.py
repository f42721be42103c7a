"""Makes and reads EXR files with the reference library through Debian's python3-openimageio.
write JOB: a JSON list of {"file", "width", "height", "x", "y", "full", "compression", "parts": [{"name", "channels", "types", "seed"}]}
read FILE...: for each, FILE.f32 with all sub-images as float32, pixel-interleaved; prints their specs."""
import json, sys
import numpy as np
import OpenImageIO as oiio

def pixels(w, h, n, seed):
    rng = np.random.default_rng(seed)
    a = rng.normal(size=(h, w, n)).astype(np.float32) * 10.0 ** rng.integers(-3, 3, size=(h, w, n))
    a[: h // 3] = np.linspace(0, 1, w, dtype=np.float32)[None, :, None]
    return a.astype(np.float32)

if sys.argv[1] == "write":
    for job in json.load(open(sys.argv[2])):
        specs = []
        for p in job["parts"]:
            s = oiio.ImageSpec(job["width"], job["height"], len(p["channels"]), "float")
            s.x, s.y = job["x"], job["y"]
            s.full_x, s.full_y, s.full_width, s.full_height = job["full"]
            s.channelnames = p["channels"]
            s.channelformats = tuple(oiio.TypeDesc(t) for t in p["types"])
            s.attribute("compression", job["compression"])
            if len(job["parts"]) > 1:
                s.attribute("oiio:subimagename", p["name"])
            specs.append(s)
        out = oiio.ImageOutput.create(job["file"])
        if len(specs) > 1:
            assert out.open(job["file"], tuple(specs)), out.geterror()
        else:
            assert out.open(job["file"], specs[0]), out.geterror()
        for i, p in enumerate(job["parts"]):
            if i:
                assert out.open(job["file"], specs[i], "AppendSubimage"), out.geterror()
            a = pixels(job["width"], job["height"], len(p["channels"]), p["seed"])
            if "uint" in p["types"]:
                a = np.abs(np.round(a)).astype(np.uint32)
            assert out.write_image(a), out.geterror()
        out.close()
else:
    result = []
    for name in sys.argv[2:]:
        inp = oiio.ImageInput.open(name)
        index, specs, data = 0, [], b""
        while inp.seek_subimage(index, 0):
            s = inp.spec()
            a = inp.read_image(index, 0, 0, s.nchannels, "uint32" if str(s.format) == "uint" else "float")
            data += np.asarray(a).astype("<f4").tobytes()
            specs.append({"channels": list(s.channelnames), "window": [s.x, s.y, s.width, s.height],
                          "full": [s.full_x, s.full_y, s.full_width, s.full_height],
                          "compression": s.getattribute("compression"),
                          "chromaticities": [float(x) for x in (s.getattribute("chromaticities") or [])]})
            index += 1
        open(name + ".f32", "wb").write(data)
        result.append(specs)
    print(json.dumps(result))
