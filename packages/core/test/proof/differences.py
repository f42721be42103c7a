"""Compares two RGBA8 pictures with the reference image library (Debian's python3-openimageio) and numpy. Arguments: two raw files, width, height,
and perhaps a region x y width height. Prints figures on the 8-bit scale as JSON."""
import json, sys
import numpy
import OpenImageIO as oiio

width, height = int(sys.argv[3]), int(sys.argv[4])
a, b = [numpy.fromfile(p, numpy.uint8).reshape(height, width, 4)[:, :, :3] for p in sys.argv[1:3]]
if len(sys.argv) > 5:
    x, y, w, h = [int(v) for v in sys.argv[5:9]]
    a, b = a[y:y + h, x:x + w], b[y:y + h, x:x + w]

def buffer(pixels):
    buf = oiio.ImageBuf(oiio.ImageSpec(pixels.shape[1], pixels.shape[0], 3, "float"))
    buf.set_pixels(oiio.ROI(), numpy.ascontiguousarray(pixels.astype(numpy.float32)))
    return buf

found = oiio.ImageBufAlgo.compare(buffer(a), buffer(b), 0, 0)
largest = numpy.abs(a.astype(int) - b.astype(int)).max(axis=2).ravel()
print(json.dumps({
    "max": found.maxerror,
    "mean": found.meanerror,
    "at": [found.maxx, found.maxy],
    "p95": int(numpy.percentile(largest, 95, method="inverted_cdf")),
    "p99": int(numpy.percentile(largest, 99, method="inverted_cdf")),
}))
