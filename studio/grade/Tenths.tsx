import type { Scopes } from '../../core/grade';
import { grouped, readable } from '../desk/quantity';
import styles from './grade.module.css';

/** How bright the darkest and the brightest tenth of a picture are: shown, and in the scene. */
export function Tenths({ scopes }: { scopes: Scopes | null }) {
  return (
    <p className={styles.tenths}>
      {scopes ? (
        <>
          <span>
            darkest tenth <b>{grouped(scopes.darkest.shown * 100)} %</b> {readable(scopes.darkest.luminance)} cd/m²
          </span>
          <span>
            brightest <b>{grouped(scopes.brightest.shown * 100)} %</b> {readable(scopes.brightest.luminance)} cd/m²
          </span>
        </>
      ) : (
        <span>measuring …</span>
      )}
    </p>
  );
}
