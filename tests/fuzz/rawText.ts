/** What an engine or a library says, and no sentence for people should. */
const RAW =
  /undefined|is not a function|not iterable|of null|Invalid (typed )?array|out of bounds|RangeError|TypeError|Maximum call|stack|THREE|vips|\bNaN\b|\[object|Unexpected token|JSON at|ENOENT|WebAssembly|wasm|invalid input syntax|violates|relation "/;

/** Whether a sentence holds what is not meant for people. */
export const isRaw = (sentence: string): boolean => RAW.test(sentence);
