import type { BakeView } from '../../core/api';
import { NOISE_KINDS, sourceName, stemParts, type BakeNoise, type NoiseKind, type SourceNoise } from '../../core/bake';
import { percent } from '../../core/units';
import { Section } from '../desk/Section';
import { useStudio } from '../state/context';
import { useListening } from '../viewport/mix/listening';
import { useView } from '../viewport/viewStore';
import { NOISE_OF, vantageOn } from './looking';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

const KIND_OF = { sky: 'sky', glow: 'lamps', sun: 'suns', circuit: 'lamps' } as const satisfies Record<SourceNoise['source'], unknown>;

const LABEL_OF: Readonly<Record<NoiseKind, string>> = { sky: 'sky', suns: 'a sun’s bounce', lamps: 'bounce of lamps' };

/** Noise of a full bar, as a multiple of what the quality allows. */
const FULL_BAR = 4;

/**
 * What the bake knows of its own noise: by source, and where it ended above what its quality allows. Views of it are those of the last bake
 * of everything: what was traced since has figures alone.
 */
export function NoiseSection({ bake, noise }: { bake: BakeView; noise: BakeNoise }) {
  const cues = useStudio((s) => s.rig.cues);
  const circuits = useStudio((s) => s.rig.circuits);
  const glows = useStudio((s) => s.rig.glows);
  const view = useListening((s) => s.view);
  const stand = useView((s) => s.stand);
  const isPart = bake.only !== null || bake.traced.length < stemParts(bake.plan).length;
  const { allowed, sources, objects, over, texels } = noise;
  return (
    <Section title="Noise" note={objects.length > 0 ? 'before filtering' : `within ${percent(allowed)} before filtering`}>
      <p className={desk.text}>
        Error of single texels, as a share of each source’s mean light
        {isPart ? ', of what was traced last. Views by source come with a bake of everything.' : '. Choose one to see where.'}
      </p>
      {sources.map((source) => {
        const { value, hint } = NOISE_OF[KIND_OF[source.source]];
        const name = sourceName(source, { cues, circuits, glows });
        return (
          <button
            key={name}
            type="button"
            className={styles.noise}
            aria-pressed={view === value}
            disabled={isPart}
            title={hint}
            onClick={() => useListening.setState({ view: view === value ? 'picture' : value })}
          >
            <span>{name}</span>
            <i style={{ width: `${Math.min(1, source.noise / (allowed * FULL_BAR)) * 100}%` }} />
            <b>{percent(source.noise)}</b>
          </button>
        );
      })}
      {objects.length > 0 && (
        <p className={desk.text}>
          Above {percent(allowed)} of its own light after all paths:{' '}
          {NOISE_KINDS.filter((kind) => over[kind] > 0)
            .map((kind) => `${LABEL_OF[kind]} in ${percent(over[kind] / texels)} of the texels`)
            .join(', ')}
          .
        </p>
      )}
      {objects.map(({ object, kind, noise, atM }) => (
        <button key={object} type="button" className={styles.place} title="Look at its worst texel" onClick={() => stand?.(vantageOn(atM))}>
          <b>{object}</b>: {LABEL_OF[kind]} up to {percent(noise)}
        </button>
      ))}
    </Section>
  );
}
