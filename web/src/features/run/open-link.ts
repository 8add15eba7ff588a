import { createContext } from "react";

/** Opens a link of the chain, where the screen has a chain. */
export const OpenLinkContext = createContext<(link: string) => void>(() => undefined);
