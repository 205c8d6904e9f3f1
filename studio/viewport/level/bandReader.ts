import { bandReader, storedReader, type BakedParts, type SomeLayers, type StemReader, type StoredStems } from '../../../core/bake';

/** Stems that are shown in place of some rows of a map, and how to read them. */
export interface ReadBand {
  top: number;
  bottom: number;
  reader: StemReader;
}

/** What a lightmap is read from: a whole map, or bands in place of some of its rows. */
export class MapReader {
  private readonly bands: (ReadBand & { height: number })[] = [];
  private readonly whole: StemReader;

  constructor(
    private readonly stems: StoredStems,
    private readonly baked: BakedParts,
  ) {
    this.whole = storedReader(stems, baked);
  }

  /** Has a band read in place of rows of a map of `height`; answers what takes it away again. */
  addBand(top: number, height: number, stems: SomeLayers): () => void {
    const band = { top, bottom: top + stems.stems.height, reader: bandReader(stems, top, this.stems, this.baked), height };
    this.bands.push(band);
    return () => void this.bands.splice(this.bands.indexOf(band), 1);
  }

  /** The stems that a coordinate's light is read from, and its coordinate in them. */
  at(v: number): { stems: StemReader; v: number } {
    const band = this.bands.find(({ top, bottom, height }) => v * height >= top && v * height < bottom);
    if (!band) return { stems: this.whole, v };
    return { stems: band.reader, v: (v * band.height - band.top) / (band.bottom - band.top) };
  }
}
