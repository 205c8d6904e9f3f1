import { Button } from 'antd';
import { useRef, useState } from 'react';
import { MAX_CDL, SHAPER_TEXT, gradeLut, readCdl, writeCdl, writeCube } from '../../core/grade';
import type { Lighting } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { saveFile } from '../desk/saveFile';
import { Section } from '../desk/Section';
import { useTell } from '../state/useTell';
import type { GradeRows } from './gradeRows';
import day from '../day/day.module.css';
import styles from '../desk/desk.module.css';

const SIZES = [17, 33, 65] as const;

/** The grade as files: an ASC CDL to load and save, and a look-up table of the whole colour. */
export function FilesSection({ grade, set, lighting, name, ev100 }: GradeRows & { lighting: Lighting; name: string; ev100: number }) {
  const chooser = useRef<HTMLInputElement>(null);
  const [size, setSize] = useState<number>(33);
  const { fault } = useTell();
  const load = async (file: File) => {
    try {
      set('cdl', readCdl(await file.slice(0, MAX_CDL * 4 + 4).text()), `list of ${file.name}`, 'cdl file');
    } catch (error) {
      fault(error);
    }
  };
  const saveCube = () => {
    const comments = [
      `Grade of ${name}. ${SHAPER_TEXT}`,
      'output = encoded sRGB (IEC 61966-2-1), 0..1',
      `exposure EV100 ${ev100.toFixed(3)}`,
    ];
    save(`${name}.cube`, writeCube(gradeLut(lighting.grade, ev100, size, name), comments));
  };
  return (
    <Section title="Files" rare>
      <div className={styles.actions}>
        <Button size="small" onClick={() => chooser.current!.click()}>
          Load a CDL
        </Button>
        <Button size="small" onClick={() => save(`${name}.cdl`, writeCdl(grade.cdl, name))}>
          Save the CDL
        </Button>
        <Button size="small" onClick={saveCube}>
          Save a .cube
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".cdl,.cc,.ccc"
          hidden
          aria-label="CDL file"
          onChange={(event) => {
            const [file] = event.currentTarget.files ?? [];
            event.currentTarget.value = '';
            if (file) void load(file);
          }}
        />
      </div>
      <PickRow<number>
        label="Points a side"
        value={size}
        options={SIZES.map((value) => ({ value, label: String(value) }))}
        onChange={setSize}
      />
      <p className={day.facts}>
        The table holds night vision to tone curve at this exposure; bloom, vignette, grain and edges are not in it.
      </p>
    </Section>
  );
}

const save = (name: string, text: string): void => saveFile(new Blob([text], { type: 'text/plain' }), name);
