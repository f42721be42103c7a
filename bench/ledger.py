"""The ledger benchmark's other side, one thread each: twelve passes of halves converted, exposed and summed by OpenImageIO, then shown
through the ACES SDR view by OpenColorIO; and Gaussians of two radii by OpenImageIO. Prints milliseconds of every run as JSON."""
import json, sys, time
import numpy as np
import OpenImageIO as oiio
import PyOpenColorIO as ocio

width, height, count, runs = (int(a) for a in sys.argv[1:5])
matrix = json.loads(sys.argv[5])
blurs = json.loads(sys.argv[6])
oiio.attribute("threads", 1)

def timed(times, run):
    started = time.perf_counter()
    result = run()
    times.append((time.perf_counter() - started) * 1000)
    return result

spec = oiio.ImageSpec(width, height, 3, "half")
k = np.arange(width * height, dtype=np.int64)
buffers = []
for i in range(count):
    b = oiio.ImageBuf(spec)
    plane = ((k * (i + 3)) % 1000 / 500).reshape(height, width, 1)
    b.set_pixels(oiio.ROI(), np.repeat(plane, 3, axis=2).astype(np.float32))
    buffers.append(b)
# OpenImageIO multiplies rows from the left: the matrix lies on its side.
m = [matrix[0], matrix[3], matrix[6], 0, matrix[1], matrix[4], matrix[7], 0, matrix[2], matrix[5], matrix[8], 0, 0, 0, 0, 1]
group = ocio.GroupTransform()
for style in ("ACEScg_to_ACES2065-1", "ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0", "DISPLAY - CIE-XYZ-D65_to_sRGB"):
    group.appendTransform(ocio.BuiltinTransform(style=style))
cpu = ocio.Config.CreateRaw().getProcessor(group).getDefaultCPUProcessor()

def ledger():
    total = oiio.ImageBuf(oiio.ImageSpec(width, height, 3, "float"))
    oiio.ImageBufAlgo.zero(total)
    for i, b in enumerate(buffers):
        converted = oiio.ImageBufAlgo.colormatrixtransform(b, tuple(m))
        gain = 2 ** (i / 10)
        oiio.ImageBufAlgo.mad(total, converted, (gain, gain, gain), total)
    pixels = total.get_pixels(oiio.FLOAT)
    cpu.applyRGB(pixels.reshape(height, width, 3))
    return pixels

sums, gaussians = [], {}
for r in range(runs + 1):
    timed(sums, ledger)
for radius, w, h in blurs:
    picture = oiio.ImageBuf(oiio.ImageSpec(w, h, 3, "float"))
    picture.set_pixels(oiio.ROI(), np.random.default_rng(1).random((h, w, 3), dtype=np.float32))
    kernel = oiio.ImageBufAlgo.make_kernel("gaussian", 2 * radius + 1, 2 * radius + 1)
    times = []
    for r in range(2):
        timed(times, lambda: oiio.ImageBufAlgo.convolve(picture, kernel))
    gaussians[str(radius)] = times
print(json.dumps({"ledger": sums[1:], "blurs": gaussians}))
