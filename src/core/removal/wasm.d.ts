/* The little of WebAssembly and of text encoding that the core uses: its own type check knows neither browser nor Node. */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Instance {
    readonly exports: object;
    constructor(module: Module, imports: object);
  }
  class Memory {
    readonly buffer: ArrayBuffer;
    constructor(size: { initial: number });
    grow(pages: number): number;
  }
}
declare function atob(text: string): string;
