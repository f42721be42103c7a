"""Makes newerStyles.json: what the reference colour library 2.5.1 (Debian sid, python3-pyopencolorio) gives for the builtin
styles that the version of Debian 12 does not have. Run with that version: python3 newerStyles.py > newerStyles.json"""
import json
import random
import PyOpenColorIO as ocio

random.seed(11)
light = [[2.0**e] * 3 for e in range(-10, 8, 2)]
for size in (0.02, 0.18, 1.0, 12.0):
    light += [[size, 0.05 * size, 0.03 * size], [0.2 * size, size, 0.1 * size], [0.1 * size, 0.15 * size, size]]
light += [[2 ** random.uniform(-7, 5) for _ in range(3)] for _ in range(24)]
light = [[float(f"{x:.7g}") for x in v] for v in light]
codes = [[x / 20] * 3 for x in range(0, 21, 2)] + [[random.uniform(0, 1) for _ in range(3)] for _ in range(24)]

codes = [[float(f"{x:.7g}") for x in v] for v in codes]


def answers(style, inverse, values):
    transform = ocio.BuiltinTransform(style)
    way = ocio.TRANSFORM_DIR_INVERSE if inverse else ocio.TRANSFORM_DIR_FORWARD
    processor = ocio.Config.CreateRaw().getProcessor(transform, way)
    cpu = processor.getOptimizedCPUProcessor(ocio.OPTIMIZATION_NONE)
    return [[float(f"{x:.7g}") for x in cpu.applyRGB(v)] for v in values]


known_in_debian_12 = set(json.load(open(__file__.replace("newerStyles.py", "stylesOfDebian12.json"))))
out = []
for item in ocio.BuiltinTransformRegistry():
    style = item if isinstance(item, str) else item[0]
    if style in known_in_debian_12:
        continue
    begins_in_codes = style.startswith("CURVE") and "INVERSE" in style or "_LINEAR" in style or style.endswith("_to_ACES2065-1")
    forward = codes if begins_in_codes else light
    there = answers(style, False, forward)
    kind = "codes" if begins_in_codes else "light"
    out.append({"style": style, "from": kind, "to": there, "back": answers(style, True, there)})
print(json.dumps({"library": ocio.GetVersion(), "light": light, "codes": codes, "styles": out}, separators=(",", ":")))
