import type { Panel } from "../../api/client";

type Electrics = Panel["electrics"];

export interface Node {
  id: string;
  kind: "source" | "bus";
  label: string;
  x: number;
  y: number;
}

export interface Edge {
  from: string;
  bus: string;
  /** Which of the bus's feeds it is, counted from 1, as the machine counts. */
  feed: number;
  path: string;
}

export interface Layout {
  nodes: Node[];
  edges: Edge[];
  width: number;
  height: number;
}

export const NODE = { width: 118, height: 36 };
const COLUMN = 158;
const ROW = 46;

/** Where everything of a one-line diagram stands: sources on the left, what they feed to the right of them. */
export function layOut(electrics: Electrics, labels: { engines: readonly { id: string; label: string }[] }): Layout {
  const depth = new Map<string, number>();
  const label = new Map<string, string>();
  const sourceOf = (from: string) => (from === "battery" || from.includes(".") ? from : `bus.${from}`);
  const add = (id: string, at: number, text: string) => {
    depth.set(id, Math.max(depth.get(id) ?? 0, at));
    label.set(id, text);
  };
  for (const bus of electrics.buses) {
    let at = 1;
    for (const { from } of bus.feeds) {
      const id = sourceOf(from);
      const inverter = electrics.inverters?.find((i) => from === `inverter.${i.id}`);
      if (inverter) {
        add(id, (depth.get(`bus.${inverter.bus}`) ?? 1) + 1, inverter.label);
      } else if (!depth.has(id)) {
        add(id, 0, nameOf(from, electrics, labels.engines));
      }

      at = Math.max(at, depth.get(id)! + 1);
    }

    add(`bus.${bus.id}`, at, bus.label);
  }

  const rows = new Map<number, number>();
  const nodes: Node[] = [];
  // Sources are named in the order the buses ask for them; the battery, the first of all, stands on top.
  const ids = [...depth.keys()].sort((a, b) => Number(b === "battery") - Number(a === "battery"));
  for (const id of ids) {
    const column = depth.get(id)!;
    const row = rows.get(column) ?? 0;
    rows.set(column, row + 1);
    nodes.push({ id, kind: id.startsWith("bus.") ? "bus" : "source", label: label.get(id)!, x: column * COLUMN, y: row * ROW });
  }

  const at = new Map(nodes.map((n) => [n.id, n]));
  const line = (from: Node, to: Node, lane: number) => {
    const [x1, y1, x2, y2] = [from.x + NODE.width, from.y + NODE.height / 2, to.x, to.y + NODE.height / 2];
    const middle = x2 - 8 - lane * 7;
    return `M${x1} ${y1}H${middle}V${y2}H${x2}`;
  };
  const edges: Edge[] = electrics.buses.flatMap((bus) =>
    bus.feeds.map((f, i) => ({ from: sourceOf(f.from), bus: bus.id, feed: i + 1, path: line(at.get(sourceOf(f.from))!, at.get(`bus.${bus.id}`)!, Math.min(i, 3)) })),
  );
  for (const inverter of electrics.inverters ?? []) {
    const to = at.get(`inverter.${inverter.id}`);
    if (to) {
      edges.push({ from: `bus.${inverter.bus}`, bus: `inverter.${inverter.id}`, feed: 0, path: line(at.get(`bus.${inverter.bus}`)!, to, 0) });
    }
  }

  return { nodes, edges, width: (Math.max(...depth.values()) + 1) * COLUMN - (COLUMN - NODE.width), height: Math.max(...rows.values()) * ROW - (ROW - NODE.height) };
}

function nameOf(from: string, electrics: Electrics, engines: readonly { id: string; label: string }[]): string {
  if (from === "battery") {
    return "Battery";
  }

  const id = from.slice(from.indexOf(".") + 1);
  if (from.startsWith("source.")) {
    return electrics.sources?.find((s) => s.id === id)?.label ?? id;
  }

  return id === "aux" ? "Auxiliary gen." : `Generator ${engines.length > 1 ? (engines.find((e) => e.id === id)?.label.toLowerCase() ?? id) : ""}`.trim();
}
