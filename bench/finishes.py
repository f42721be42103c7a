# Median and sharpening by the reference image library, from a float picture in memory, one thread. Width, height, runs.
import json
import sys
import time

import numpy
import OpenImageIO as oiio

width, height, runs = (int(a) for a in sys.argv[1:4])
oiio.attribute("threads", 1)
picture = oiio.ImageBuf(oiio.ImageSpec(width, height, 3, "float"))
numbers = (numpy.arange(width * height * 3, dtype=numpy.int64) * 7919 % 1000).astype(numpy.float32) / 1000
picture.set_pixels(oiio.ROI(0, width, 0, height, 0, 1, 0, 3), numbers.reshape(height, width, 3))


def timed(run):
    times = []
    for _ in range(runs + 1):
        started = time.perf_counter()
        run()
        times.append((time.perf_counter() - started) * 1000)
    return times[1:]


print(
    json.dumps(
        {
            "median": timed(lambda: oiio.ImageBufAlgo.median_filter(picture, 3, 3, nthreads=1)),
            "sharpen": timed(lambda: oiio.ImageBufAlgo.unsharp_mask(picture, "gaussian", 7.0, 1.0, 0.0, nthreads=1)),
        }
    )
)
