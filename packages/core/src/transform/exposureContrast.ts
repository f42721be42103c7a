import type { ColourStep } from '../colour/steps.ts';
import { scaleAndOffset } from './scale.ts';
import type { Direction, TransformOf } from './transform.ts';

/** 1 / 1.83: the camera curve's rough power, by which the video style carries stops and pivot into encoded values. */
const videoPower = 0.54644808743169393;

/** Log codes a stop, where a config does not say. */
const defaultLogStep = 0.088;

/** Exposure and contrast about a pivot, in linear, video or log values (the open config format's transform of that name). */
export function exposureContrastSteps(t: TransformOf<'exposureContrast'>, way: Direction): ColourStep[] {
  const contrast = Math.max(0.001, t.contrast * t.gamma);
  if (t.style === 'log') {
    const pivot = Math.max(0, Math.log2(Math.max(0.001, t.pivot) / 0.18) * t.logExposureStep + t.logMidGrey);
    // Backwards the reference library takes its default step whatever the config says, up to 2.5.1: its pictures are the measure.
    const lift = t.exposure * (way === 'forward' ? t.logExposureStep : defaultLogStep);
    const offset = (lift - pivot) * contrast + pivot;
    if (way === 'forward') return [scaleAndOffset([contrast, contrast, contrast], [offset, offset, offset])];
    const [k, o] = [1 / contrast, -offset / contrast];
    return [scaleAndOffset([k, k, k], [o, o, o])];
  }
  const video = t.style === 'video';
  const pivot = Math.max(0.001, t.pivot) ** (video ? videoPower : 1);
  const gain = (2 ** t.exposure) ** (video ? videoPower : 1);
  const scale = (k: number): ColourStep => scaleAndOffset([k, k, k], [0, 0, 0]);
  if (contrast === 1) return [scale(way === 'forward' ? gain : 1 / gain)];
  const bend = (power: number): ColourStep => ({ kind: 'plainPlane', recipe: { what: 'contrast', pivot, power } });
  return way === 'forward' ? [scale(gain), bend(contrast)] : [bend(1 / contrast), scale(1 / gain)];
}
