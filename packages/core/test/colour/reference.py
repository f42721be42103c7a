"""Asks the reference colour library (Debian's python3-pyopencolorio) for values. Reads a JSON job on standard input:
{"matrices": [[from, to]], "styles": [{"style": S, "then": display style or null}], "values": [[r, g, b], ...]}"""
import json, sys
import PyOpenColorIO as ocio

job = json.load(sys.stdin)
config = ocio.Config.CreateRaw()

def run(transforms, values):
    group = ocio.GroupTransform()
    for t in transforms:
        group.appendTransform(t)
    cpu = config.getProcessor(group).getDefaultCPUProcessor()
    return [cpu.applyRGB(list(v)) for v in values]

def make(step):
    if "style" in step:
        direction = ocio.TRANSFORM_DIR_INVERSE if step.get("inverse") else ocio.TRANSFORM_DIR_FORWARD
        return ocio.BuiltinTransform(style=step["style"], direction=direction)
    if "gamma" in step:
        t = ocio.ExponentWithLinearTransform(gamma=[step["gamma"]] * 3 + [1], offset=[step["offset"]] * 3 + [0],
                                             negativeStyle=ocio.NEGATIVE_LINEAR)
        t.setDirection(ocio.TRANSFORM_DIR_INVERSE if step.get("inverse") else ocio.TRANSFORM_DIR_FORWARD)
        return t
    if "exponent" in step:
        t = ocio.ExponentTransform(value=[step["exponent"]] * 3 + [1])
        return t
    raise ValueError(step)

print(json.dumps([run([make(s) for s in c["steps"]], c["values"]) for c in job]))
