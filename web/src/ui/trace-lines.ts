/** How the lines of up to four engines are told apart: by colour and dash, with a mark for the legend. */
const LINES = [
  { colour: "--trace-1", dash: undefined, mark: "━" },
  { colour: "--trace-2", dash: [6, 4], mark: "╌" },
  { colour: "--trace-1", dash: [2, 3], mark: "┈" },
  { colour: "--trace-2", dash: [10, 3, 2, 3], mark: "┅" },
];

export const traceLine = (i: number) => LINES[i % LINES.length]!;
