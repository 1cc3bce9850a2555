// What the vendored scripts put on the window.
declare const htmx: {
  ajax(verb: string, path: string, options: { source: Element; target: Element; swap: string }): Promise<void>;
};
declare const Idiomorph: {
  defaults: {
    callbacks: {
      beforeNodeMorphed: (old: Node, fresh: Node) => boolean;
      afterNodeMorphed: (old: Node, fresh: Node) => void;
    };
  };
};
