import dagre from "@dagrejs/dagre";
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

/** Where everything of a one-line diagram stands: sources on the left, what they feed to the right of them. */
export function layOut(electrics: Electrics, labels: { engines: readonly { id: string; label: string }[] }): Layout {
  const graph = new dagre.graphlib.Graph({ multigraph: true });
  graph.setGraph({ rankdir: "LR", nodesep: 10, ranksep: 40, edgesep: 8, ranker: "tight-tree" });
  const sourceOf = (from: string) => (from === "battery" || from.includes(".") ? from : `bus.${from}`);
  const put = (id: string, label: string) => {
    if (!graph.hasNode(id)) {
      graph.setNode(id, { ...NODE, label });
    }
  };
  for (const bus of electrics.buses) {
    put(`bus.${bus.id}`, bus.label);
    bus.feeds.forEach(({ from }, i) => {
      const inverter = electrics.inverters?.find((x) => from === `inverter.${x.id}`);
      put(sourceOf(from), inverter?.label ?? nameOf(from, electrics, labels.engines));
      graph.setEdge(sourceOf(from), `bus.${bus.id}`, {}, String(i + 1));
    });
  }

  for (const inverter of electrics.inverters ?? []) {
    if (graph.hasNode(`inverter.${inverter.id}`)) {
      graph.setEdge(`bus.${inverter.bus}`, `inverter.${inverter.id}`, {}, "0");
    }
  }

  dagre.layout(graph);
  const { width = 0, height = 0 } = graph.graph();
  return {
    nodes: graph.nodes().map((id) => {
      const { x, y, label } = graph.node(id) as { x: number; y: number; label: string };
      return { id, kind: id.startsWith("bus.") ? "bus" : "source", label, x: x - NODE.width / 2, y: y - NODE.height / 2 };
    }),
    edges: graph.edges().map((e) => {
      const { points } = graph.edge(e) as { points: { x: number; y: number }[] };
      return {
        from: e.v,
        bus: e.w.startsWith("bus.") ? e.w.slice(4) : e.w,
        feed: Number(e.name),
        path: points.map((p, i) => `${i === 0 ? "M" : "L"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join(""),
      };
    }),
    width,
    height,
  };
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
