export { LIST_OF, SHELF_KINDS, packForShelf, packedThing, type Packed, type ShelfKind } from './pack';
export { takeFromShelf, type Taken } from './take';
