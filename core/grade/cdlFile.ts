import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { Failure, type Rgb } from '../units';
import { NO_CDL, type Cdl } from './cdl';

/** Bounds of a list's numbers in a rig. */
export const CDL_RANGES = { slope: [0, 8], offset: [-1, 1], power: [0.1, 8], saturation: [0, 4] } as const;

const refuse = (what: string): never => {
  throw new Failure(
    'bad-input',
    `The CDL file cannot be read: ${what}.`,
    'Choose a .cdl, .cc or .ccc file of the ASC with one correction.',
  );
};

const isElement = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Every element of a name in a parsed document, wherever it stands. */
function elements(node: unknown, name: string): unknown[] {
  if (Array.isArray(node)) return node.flatMap((child) => elements(child, name));
  if (!isElement(node)) return [];
  return Object.entries(node).flatMap(([key, child]) => (key === name ? [child].flat() : elements(child, name)));
}

function numbers(node: unknown, name: string, count: number, [low, high]: readonly [number, number]): number[] | null {
  const [found] = elements(node, name);
  if (found === undefined) return null;
  const text = String(isElement(found) ? found['#text'] : found).trim();
  const values = text === '' ? [] : text.split(/\s+/).map(Number);
  if (values.length !== count || !values.every(Number.isFinite))
    return refuse(`${name} is "${text}", not ${count === 1 ? 'a number' : 'three numbers'}`);
  if (!values.every((v) => v >= low && v <= high)) return refuse(`${name} is ${text}; numbers from ${low} to ${high} are taken`);
  return values;
}

/** Most letters of a list: one correction takes a thousand. */
export const MAX_CDL = 1_000_000;

/** The tree of an XML text. The parser refuses what the validator lets pass: an instruction that does not end, say. */
function parseXml(xml: string): unknown {
  try {
    return new XMLParser({ removeNSPrefix: true, parseTagValue: false, processEntities: false }).parse(xml);
  } catch {
    return refuse('it is not whole XML');
  }
}

/**
 * Reads a colour decision list from the ASC's XML (.cdl, .cc, .ccc; ASC CDL 1.2). What is not stated changes nothing. Throws a `bad-input`
 * {@link Failure} for anything else, and where there is more than one correction.
 */
export function readCdl(xml: string): Cdl {
  if (xml.length > MAX_CDL) return refuse(`it has ${xml.length} letters, and up to ${MAX_CDL} are read`);
  const fault = XMLValidator.validate(xml);
  if (fault !== true) return refuse(`line ${fault.err.line} is not XML: ${fault.err.msg.replace(/\.$/, '')}`);
  const document = parseXml(xml);
  const corrections = elements(document, 'ColorCorrection');
  if (corrections.length === 0) return refuse('it holds no ColorCorrection');
  if (corrections.length > 1) return refuse(`it holds ${corrections.length} corrections, and a cue has one`);
  const triple = (name: 'Slope' | 'Offset' | 'Power', otherwise: Rgb) =>
    (numbers(corrections[0], name, 3, CDL_RANGES[name.toLowerCase() as 'slope']) as Rgb | null) ?? otherwise;
  return {
    slope: triple('Slope', NO_CDL.slope),
    offset: triple('Offset', NO_CDL.offset),
    power: triple('Power', NO_CDL.power),
    saturation: numbers(corrections[0], 'Saturation', 1, CDL_RANGES.saturation)?.[0] ?? NO_CDL.saturation,
  };
}

/** A colour decision list as a .cdl file. */
export function writeCdl({ slope, offset, power, saturation }: Cdl, id: string): string {
  const text = (values: readonly number[]) => values.map((v) => Number(v.toFixed(6)).toString()).join(' ');
  return new XMLBuilder({ ignoreAttributes: false, format: true }).build({
    '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' },
    ColorDecisionList: {
      '@_xmlns': 'urn:ASC:CDL:v1.2',
      ColorDecision: {
        ColorCorrection: {
          '@_id': id,
          SOPNode: { Slope: text(slope), Offset: text(offset), Power: text(power) },
          SatNode: { Saturation: text([saturation]) },
        },
      },
    },
  });
}
