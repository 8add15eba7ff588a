import { setNonce } from "get-nonce";

/** What the page's policy lets a style element through by: the server writes a new one into every page it sends. */
export const pageNonce = document.querySelector<HTMLMetaElement>("meta[name=style-nonce]")?.nonce ?? "";

// The primitives that keep a page from scrolling behind a dialog add a style element, and ask for it there.
setNonce(pageNonce);
