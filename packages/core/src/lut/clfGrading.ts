import { Fields } from '../config/fields.ts';
import { parseGrading } from '../config/parseGrading.ts';
import type { ConfigNode } from '../config/yamlTree.ts';
import type { Transform } from '../transform/transform.ts';
import { childOf, type Element } from './xml.ts';

/** A grading node of a .ctf file, read by way of the config file's own fields. */
export function clfGrading(element: Element, kind: 'primary' | 'curve' | 'tone'): Transform {
  const style = element.attributes['style'] ?? 'log';
  const turned = /rev$/i.test(style);
  const entries = new Map<string, ConfigNode>([['style', scalar(style.replace(/rev$/i, ''), element)]]);
  if (element.attributes['bypassLinToLog'] === 'true') entries.set('lintolog_bypass', scalar('true', element));
  for (const child of element.children) {
    const key = child.name === 'SContrast' ? 's_contrast' : child.name.toLowerCase();
    const single = ['saturation', 's_contrast'].includes(key);
    entries.set(key, single ? scalar(child.attributes['master'] ?? '1', child) : control(child));
  }
  const fields = new Fields({ kind: 'map', tag: undefined, place: element.place, entries }, element.name);
  return { ...parseGrading[kind](fields), direction: turned ? 'inverse' : 'forward' } as Transform;
}

function scalar(text: string, { place }: Element): ConfigNode {
  return { kind: 'scalar', tag: undefined, place, text };
}

function list(text: string, element: Element): ConfigNode {
  const items = text.trim().split(/\s+/).filter(Boolean);
  return { kind: 'list', tag: undefined, place: element.place, items: items.map((t) => scalar(t, element)) };
}

function control(element: Element): ConfigNode {
  const entries = new Map<string, ConfigNode>();
  for (const [key, text] of Object.entries(element.attributes)) {
    entries.set(key, key === 'rgb' ? list(text, element) : scalar(text, element));
  }
  const points = childOf(element, 'ControlPoints');
  const slopes = childOf(element, 'Slopes');
  if (points) entries.set('control_points', list(points.text, points));
  if (slopes) entries.set('slopes', list(slopes.text, slopes));
  return { kind: 'map', tag: undefined, place: element.place, entries };
}
