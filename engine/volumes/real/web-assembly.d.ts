/** The part of the WebAssembly interface in use here; neither ES nor Node types declare it. */
declare namespace WebAssembly {
  class Memory {
    constructor(limits: { initial: number; maximum?: number; shared?: boolean });
    readonly buffer: ArrayBuffer;
  }
}
