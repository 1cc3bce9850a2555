export { attributesModule, h, init, vnode } from "snabbdom";
