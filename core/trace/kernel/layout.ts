// The ray kernel, in AssemblyScript: a tree of four boxes a node over triangles, built by the surface area heuristic and walked with
// 128-bit vectors. No managed objects and no static data: all memory is the caller's, as raw addresses in bytes.
//
// A wide node takes NODE bytes: the low and high bounds of its four children, one vector for each axis and side
//   0 lowX  16 highX  32 lowY  48 highY  64 lowZ  80 highZ  96 the children  112 free
// A child is the number of a node, or LEAF | first block << 4 | blocks. Children that are not there have bounds that nothing meets.
//
// A block takes BLOCK bytes: four triangles, one vector for each number
//   0 corner xyz  48 edge to the second corner xyz  96 edge to the third corner xyz  144 their numbers
// A triangle's number has CUTOUT set where it may have holes. Lanes that are not used have edges of no length.

export const NODE: usize = 128;
export const BLOCK: usize = 160;
export const LEAF: u32 = 0x80000000;
export const CUTOUT: u32 = 0x80000000;
