"""Times the reference colour library (Debian's python3-pyopencolorio) over a picture of floats, one thread. Argument: a JSON list of
rows, each a list of built-in transform styles, or a view of a config with looks; prints milliseconds of every run by row."""
import json, sys, time
import numpy as np
import PyOpenColorIO as ocio

width, height, runs, rows = 1920, 1080, 5, json.loads(sys.argv[1])
config = ocio.Config.CreateRaw()
picture = ((np.arange(width * height * 4, dtype=np.int64) * 7 % 1009) / 300).astype(np.float32)
results = []
for row in rows:
    group = ocio.GroupTransform()
    for step in row if isinstance(row, list) else []:
        inverse = step.startswith("-")
        group.appendTransform(ocio.BuiltinTransform(style=step[1:] if inverse else step,
            direction=ocio.TRANSFORM_DIR_INVERSE if inverse else ocio.TRANSFORM_DIR_FORWARD))
    if isinstance(row, list):
        processor = config.getProcessor(group)
    else:
        own = ocio.Config.CreateFromFile(row["config"])
        view = ocio.LegacyViewingPipeline()
        view.setDisplayViewTransform(ocio.DisplayViewTransform(src="ACEScg", display=row["display"], view=row["view"]))
        view.setLooksOverride(row["looks"])
        view.setLooksOverrideEnabled(True)
        processor = view.getProcessor(own, own.getCurrentContext())
    cpu = processor.getDefaultCPUProcessor()
    times = []
    for r in range(runs + 1):
        pixels = picture.copy()
        started = time.perf_counter()
        cpu.applyRGBA(pixels.reshape(height, width, 4))
        if r:
            times.append((time.perf_counter() - started) * 1000)
    results.append(times)
print(json.dumps(results))
