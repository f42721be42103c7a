"""The ledger benchmark's other side: the same twelve gains and sums with OpenImageIO's ImageBufAlgo, one thread."""
import json, sys, time
import numpy as np
import OpenImageIO as oiio

width, height, count, runs = (int(a) for a in sys.argv[1:])
oiio.attribute("threads", 1)
spec = oiio.ImageSpec(width, height, 3, "float")
k = np.arange(width * height, dtype=np.float32)
buffers = []
for i in range(count):
    b = oiio.ImageBuf(spec)
    plane = ((k * (i + 3)) % 1000 / 500).reshape(height, width, 1)
    b.set_pixels(oiio.ROI(), np.repeat(plane, 3, axis=2).astype(np.float32))
    buffers.append(b)
times = []
for r in range(runs + 1):
    started = time.perf_counter()
    total = oiio.ImageBuf(spec)
    oiio.ImageBufAlgo.zero(total)
    for i, b in enumerate(buffers):
        oiio.ImageBufAlgo.mad(total, b, (1 + i / 10, 1.0, 1 - i / 20), total)
    if r:
        times.append((time.perf_counter() - started) * 1000)
print(json.dumps(times))
