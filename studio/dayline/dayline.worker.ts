import { displayColor } from '../../core/grade';
import { dayStrip, type Rig } from '../../core/rig';
import { ev100FromIlluminance, type Rgb } from '../../core/units';

/** What the dayline is drawn from. */
export interface PaintedDay {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** Elevations in degrees at `width` hours: sun, moon, others. */
  elevations: Float32Array[];
  /** Light on open ground at those hours, lux. */
  groundLux: Float32Array;
}

export type DayAsked = { rig: Pick<Rig, 'place' | 'day' | 'airId' | 'airs' | 'night'>; width: number; height: number };
export type DayAnswer = { day: PaintedDay };

/** An eye that gets used to the dark by only part of what there is to get used to: night stays night. */
const seenAt = (ev: number) => 14.1 + (ev - 15) * 0.7;

self.onmessage = ({ data: { rig, width, height } }: MessageEvent<DayAsked>) => {
  const { radiance, groundLux, elevations } = dayStrip(rig, width, height);
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let x = 0; x < width; x++) {
    const ev = seenAt(ev100FromIlluminance(Math.max(5e-4, groundLux[x]!)));
    for (let y = 0; y < height; y++) {
      const at = (y * width + x) * 3;
      const shown = displayColor([radiance[at]!, radiance[at + 1]!, radiance[at + 2]!] as Rgb, ev);
      rgba.set([shown[0] * 255, shown[1] * 255, shown[2] * 255, 255], (y * width + x) * 4);
    }
  }
  const answer: DayAnswer = { day: { width, height, rgba, elevations, groundLux } };
  self.postMessage(answer, { transfer: [rgba.buffer, groundLux.buffer as ArrayBuffer, ...elevations.map((e) => e.buffer as ArrayBuffer)] });
};
