"""Makes a linear frame and pictures of it by the reference colour library and the reference image library.

usage: match.py FOLDER CONFIG
"""
import sys

import numpy
import OpenImageIO as oiio
import PyOpenColorIO as ocio

folder, path = sys.argv[1:]
config = ocio.Config.CreateFromFile(path)
height, width = 90, 160
generator = numpy.random.default_rng(5)
y, x = numpy.mgrid[0:height, 0:width]
light = numpy.zeros((height, width, 3), numpy.float32)
light[:] = (0.3 + 0.5 * (1 - y / height))[..., None] * numpy.array([0.8, 0.9, 1.1])
for _ in range(40):
    at = generator.uniform([0, 0], [height, width])
    inside = (y - at[0]) ** 2 + (x - at[1]) ** 2 < generator.uniform(4, 14) ** 2
    light[inside] = 0.18 * 2 ** generator.uniform(-5, 5) * generator.uniform(0.1, 1, 3)
light = light.astype(numpy.float16).astype(numpy.float32)


def save(name, pixels, format):
    spec = oiio.ImageSpec(width, height, 3, format)
    out = oiio.ImageOutput.create(f'{folder}/{name}')
    out.open(f'{folder}/{name}', spec)
    out.write_image(numpy.ascontiguousarray(pixels))
    out.close()


save('frame.exr', light, oiio.HALF)


def seen(space, display, view, looks=None, exposure=0.0):
    group = ocio.GroupTransform()
    gain = 2.0**exposure
    group.appendTransform(ocio.MatrixTransform([gain, 0, 0, 0, 0, gain, 0, 0, 0, 0, gain, 0, 0, 0, 0, 1]))
    transform = ocio.DisplayViewTransform(src=space, display=display, view=view)
    pipe = ocio.LegacyViewingPipeline()
    pipe.setDisplayViewTransform(transform)
    if looks is not None:
        pipe.setLooksOverrideEnabled(True)
        pipe.setLooksOverride(looks)
    processor = pipe.getProcessor(config).getDefaultCPUProcessor()
    pixels = numpy.ascontiguousarray((light * numpy.float32(gain)).reshape(-1, 3).copy())
    processor.applyRGB(pixels)
    return numpy.clip(pixels.reshape(height, width, 3), 0, 1)


codes = lambda pixels: numpy.round(255 * pixels).astype(numpy.uint8)
save('haze.png', codes(seen('ACEScg', 'sRGB', 'Haze')), oiio.UINT8)
save('dusk.png', codes(seen('ACEScg', 'sRGB', 'Haze', 'dusk', 0.5)), oiio.UINT8)
save('gamma.png', codes(seen('ACEScg', 'sRGB', 'Haze') ** (1 / 1.2)), oiio.UINT8)

# A show LUT: numbers of ACEScct to codes by itself, read and applied by the reference colour library.
nodes = numpy.mgrid[0:9, 0:9, 0:9].reshape(3, -1).T[:, ::-1] / 8.0
contrast = 1 / (1 + numpy.exp(-7 * (nodes - 0.45)))
contrast[:, 0] *= 0.95
with open(f'{folder}/show.cube', 'w') as file:
    file.write('LUT_3D_SIZE 9\n' + ''.join('%.7f %.7f %.7f\n' % tuple(node) for node in contrast))
studio = ocio.Config.CreateRaw()
group = ocio.GroupTransform()
group.appendTransform(ocio.BuiltinTransform('ACEScct_to_ACES2065-1', ocio.TRANSFORM_DIR_INVERSE))
group.appendTransform(ocio.FileTransform(f'{folder}/show.cube', interpolation=ocio.INTERP_LINEAR))
# From ACEScg (AP1) to ACES2065-1 (AP0): SMPTE ST 2065-4 and S-2014-004, by the same library.
into = ocio.GroupTransform()
into.appendTransform(ocio.BuiltinTransform('ACEScg_to_ACES2065-1'))
into.appendTransform(group)
pixels = numpy.ascontiguousarray(light.reshape(-1, 3).copy())
studio.getProcessor(into).getDefaultCPUProcessor().applyRGB(pixels)
save('show.png', codes(numpy.clip(pixels.reshape(height, width, 3), 0, 1)), oiio.UINT8)
