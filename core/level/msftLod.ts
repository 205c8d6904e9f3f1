import {
  Extension,
  ExtensionProperty,
  PropertyType,
  RefList,
  type IProperty,
  type Nullable,
  type Node,
  type ReaderContext,
} from '@gltf-transform/core';

const NAME = 'MSFT_lod';

interface Coarser extends IProperty {
  nodes: RefList<Node>;
}

/** The coarser forms of a node, the finest of them first. */
export class CoarserNodes extends ExtensionProperty<Coarser> {
  static override EXTENSION_NAME = NAME;
  declare extensionName: typeof NAME;
  declare propertyType: 'CoarserNodes';
  declare parentTypes: [PropertyType.NODE];

  protected init(): void {
    this.extensionName = NAME;
    this.propertyType = 'CoarserNodes';
    this.parentTypes = [PropertyType.NODE];
  }

  protected override getDefaults(): Nullable<Coarser> {
    return Object.assign(super.getDefaults() as IProperty, { nodes: new RefList<Node>() });
  }

  list(): Node[] {
    return this.listRefs('nodes');
  }

  add(node: Node): this {
    return this.addRef('nodes', node);
  }
}

/** MSFT_lod: nodes that stand for another one where it is small in the picture. It is read alone: a prepared level says the same in its own words. */
export class MsftLod extends Extension {
  static override readonly EXTENSION_NAME = NAME;
  override readonly extensionName = NAME;

  create(): CoarserNodes {
    return new CoarserNodes(this.document.getGraph());
  }

  override read(context: ReaderContext): this {
    (context.jsonDoc.json.nodes ?? []).forEach((definition, index) => {
      const ids = (definition.extensions?.[NAME] as { ids?: unknown } | undefined)?.ids;
      if (!Array.isArray(ids)) return;
      const coarser = this.create();
      for (const id of ids) {
        const node = context.nodes[id as number];
        if (node) coarser.add(node);
      }
      context.nodes[index]!.setExtension(NAME, coarser);
    });
    return this;
  }

  override write(): this {
    return this;
  }
}
