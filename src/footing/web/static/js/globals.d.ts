// What the vendored scripts put on the window.
declare const htmx: {
  ajax(verb: string, path: string, options: { source: Element; target: Element; swap: string; select?: string }): Promise<void>;
};
declare const tus: {
  Upload: new (file: Blob, options: Record<string, any>) => {
    start(): void;
    abort(remove?: boolean): Promise<void>;
    findPreviousUploads(): Promise<any[]>;
    resumeFromPreviousUpload(previous: any): void;
    url: string | null;
  };
};
declare const Idiomorph: {
  morph(old: Element, fresh: Node[], how: { morphStyle: "innerHTML" | "outerHTML" }): Node[];
  defaults: {
    callbacks: {
      beforeAttributeUpdated: (name: string, element: Element) => boolean;
      beforeNodeMorphed: (old: Node, fresh: Node) => boolean;
      afterNodeMorphed: (old: Node, fresh: Node) => void;
    };
  };
};
