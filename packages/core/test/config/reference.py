"""Asks the reference colour library (Debian's python3-pyopencolorio) for values. Standard input: a JSON list of jobs
{"config": path, "from", "to"} or {…, "display", "view", "looks"?} or {…, "named"} or {"builtin"} or {"rule": file},
each with "inverse"?, "context"? and "values"; "exact" asks for the exact inverse of tables instead of the fast one."""
import json, sys
import PyOpenColorIO as ocio

ocio.SetLoggingLevel(ocio.LOGGING_LEVEL_NONE)
configs = {}

def load(path):
    if path not in configs:
        configs[path] = ocio.Config.CreateFromFile(path) if path else ocio.Config.CreateRaw()
    return configs[path]

def processor(job):
    config = load(job.get("config"))
    direction = ocio.TRANSFORM_DIR_INVERSE if job.get("inverse") else ocio.TRANSFORM_DIR_FORWARD
    context = config.getCurrentContext()
    if job.get("context"):
        for key, value in job["context"].items():
            context[key] = value
    if "builtin" in job:
        return config.getProcessor(ocio.BuiltinTransform(style=job["builtin"]), direction)
    if "named" in job:
        named = config.getNamedTransform(job["named"])
        own = named.getTransform(direction)
        if own is not None:
            return config.getProcessor(own)
        other = ocio.TRANSFORM_DIR_FORWARD if job.get("inverse") else ocio.TRANSFORM_DIR_INVERSE
        return config.getProcessor(named.getTransform(other), ocio.TRANSFORM_DIR_INVERSE)
    if "display" in job:
        pipeline = ocio.DisplayViewTransform(src=job["from"], display=job["display"], view=job["view"])
        if job.get("looks") is not None:
            legacy = ocio.LegacyViewingPipeline()
            legacy.setDisplayViewTransform(pipeline)
            legacy.setLooksOverride(job["looks"])
            legacy.setLooksOverrideEnabled(True)
            return legacy.getProcessor(config, context)
        return config.getProcessor(context, pipeline, direction)
    if job.get("inverse"):
        return config.getProcessor(context, job["to"], job["from"])
    return config.getProcessor(context, job["from"], job["to"])

def answer(job):
    try:
        if "rule" in job:
            space, index = load(job["config"]).getColorSpaceFromFilepath(job["rule"])
            return [space, load(job["config"]).getFileRules().getName(index)]
        p = processor(job)
        cpu = p.getOptimizedCPUProcessor(ocio.OPTIMIZATION_LOSSLESS) if job.get("exact") else p.getDefaultCPUProcessor()
        return [cpu.applyRGB(list(v)) for v in job["values"]]
    except Exception as e:
        return {"error": str(e)}

print(json.dumps([answer(j) for j in json.load(sys.stdin)]))
