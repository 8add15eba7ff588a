// Pieces of the front end that can be tried without a run, for the tests: built apart (npm run units), never shipped.
import { FrameOrder } from "./api/frame-order";
import { nearest, suggest } from "./features/run/command-line";
import { headerOf, situationOf } from "./features/sortie/situation";
import { numberOf, wrongWith } from "./features/sortie/situation-check";
import { layOut } from "./features/start/one-line";
import { clock, number } from "./ui/format";

Object.assign(window, { units: { FrameOrder, clock, headerOf, layOut, nearest, number, numberOf, situationOf, suggest, wrongWith } });
