import { displayColor } from '../../core/grade';
import type { FaceLight } from '../../core/sky';
import { decodeSrgb, ev100FromLuminance, hexFromRgb, luminance, type Rgb } from '../../core/units';
import { readable } from '../desk/quantity';
import styles from './skies.module.css';

/** What a sky gives surfaces that face up, to the sides and down, as white paper would show it beside one another. */
export function FaceSwatches({ faces }: { faces: FaceLight }) {
  const ev = ev100FromLuminance(Math.max(1e-9, luminance(faces.up))) - 1.5;
  const shownAs = (rgb: Rgb) => {
    const shown = displayColor(rgb, ev);
    return hexFromRgb([decodeSrgb(shown[0]), decodeSrgb(shown[1]), decodeSrgb(shown[2])]);
  };
  return (
    <div className={styles.faces} role="group" aria-label="Light of the sky on surfaces">
      {(['up', 'side', 'down'] as const).map((face) => (
        <span key={face} title={`${readable(luminance(faces[face]) * Math.PI)} lx`}>
          <i style={{ background: shownAs(faces[face]) }} />
          {face}
        </span>
      ))}
    </div>
  );
}
