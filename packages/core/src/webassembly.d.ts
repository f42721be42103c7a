// The little of WebAssembly's interface that core uses: core is compiled without DOM or Node types on purpose.
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Instance {
    constructor(module: Module, imports: object);
    readonly exports: Record<string, unknown>;
  }
}

/** Text decoding, present in every engine; core is compiled without the DOM's types. */
declare class TextDecoder {
  constructor(label?: string);
  decode(bytes: Uint8Array): string;
}
