// What the vendored scripts put on the window.
declare const htmx: {
  ajax(verb: string, path: string, options: { target: Element; swap: string }): Promise<void>;
};
declare const Idiomorph: { defaults: { ignoreActiveValue: boolean } };
