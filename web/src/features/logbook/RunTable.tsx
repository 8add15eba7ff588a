import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { createColumnHelper, flexRender, getCoreRowModel, useReactTable, type RowSelectionState } from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { api, type LinkHeld, type Schemas } from "../../api/client";
import { clock } from "../../ui/format";
import { heldTotal, Signature } from "../../ui/signature";
import { Shape, statusText } from "../../ui/status";
import { Tick } from "../../ui/tick";
import { verdicts } from "../../ui/verdicts";

type Run = Schemas["RunPage"]["runs"][number];

export const beginnings: Record<string, string> = { first: "first start", turnaround: "turnaround", air: "air restart" };

/** Rows beyond the edge that are drawn as well, and so near the end that more are asked for. */
const [OVERSCAN, NEAR_THE_END] = [8, 10];
const ROW_PX = 44;

/** Columns that a narrow page does without: verdict and signature matter more. */
const wide = new Set(["place", "peakC"]);

/** Columns that a phone does without: who, what, how it ended and the way to it matter more. */
const middle = new Set(["taken", "beginning", "seconds", "held"]);
const hiding = (column: string) => (wide.has(column) ? "max-lg:hidden" : middle.has(column) ? "max-sm:hidden" : "");

interface Props {
  rows: readonly Run[];
  fleet?: Schemas["FleetView"];
  total: number;
  filtered: boolean;
  /** Asks for the next rows; undefined where there are none, or they are on their way. */
  onMore?: () => void;
}

/** The runs of the logbook: however many there are, only those in sight are drawn, and more come as one scrolls. */
export function RunTable({ rows, fleet, total, filtered, onMore }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const held = useSignatures(rows);
  const columns = useMemo(() => columnsOf(fleet, held), [fleet, held]);
  const data = useMemo(() => [...rows], [rows]);
  const [ticked, setTicked] = useState<RowSelectionState>({});
  const taken = data.filter((r) => ticked[r.id]);
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is used here only
  const table = useReactTable({
    data,
    columns,
    getCoreRowModel: getCoreRowModel(),
    getRowId: (r) => r.id,
    state: { rowSelection: ticked },
    onRowSelectionChange: setTicked,
    enableRowSelection: ({ original: r }) => ticked[r.id] === true || (taken.length < 2 && (!taken[0] || ofAKind(taken[0], r))),
  });
  const all = table.getRowModel().rows;
  const virtual = useVirtualizer({ count: all.length, getScrollElement: () => box.current, estimateSize: () => ROW_PX, overscan: OVERSCAN });
  const shown = virtual.getVirtualItems();
  const [first, last] = [shown[0], shown.at(-1)];
  useEffect(() => {
    if (last && last.index >= all.length - NEAR_THE_END) {
      onMore?.();
    }
  }, [last, all.length, onMore]);
  return (
    <div className="rounded-lg bg-panel">
      <div ref={box} role="region" aria-label="Runs" tabIndex={0} className="relative max-h-[calc(100vh-12rem)] overflow-auto">
        <table className="w-full text-sm" aria-rowcount={total + 1}>
          <thead className="sticky top-0 z-10 bg-panel text-left text-xs text-pale">
            {table.getHeaderGroups().map((g) => (
              <tr key={g.id}>
                {g.headers.map((h) => (
                  <th key={h.id} scope="col" className={clsx("px-2 py-2 font-normal max-sm:px-1", hiding(h.column.id))}>
                    {flexRender(h.column.columnDef.header, h.getContext())}
                  </th>
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            <Gap px={first?.start ?? 0} />
            {shown.map(({ index }) => {
              const row = all[index]!;
              return (
                <tr key={row.id} data-testid="run-row" aria-rowindex={index + 2} className="h-11 border-t border-line hover:bg-raised">
                  {row.getVisibleCells().map((c) => (
                    <td key={c.id} className={clsx("px-2 max-sm:px-1", hiding(c.column.id))}>
                      {flexRender(c.column.columnDef.cell, c.getContext())}
                    </td>
                  ))}
                </tr>
              );
            })}
            <Gap px={virtual.getTotalSize() - (last?.end ?? 0)} />
          </tbody>
        </table>
      </div>
      <p className="flex flex-wrap items-center gap-x-6 gap-y-1 px-3 py-2 text-xs text-pale">
        <span data-testid="shown">
          {rows.length} read of {total}
          {filtered ? " like that" : " in the logbook"}.
        </span>
        <Taken taken={taken} />
      </p>
    </div>
  );
}

/** What can be done with the runs that are ticked. */
function Taken({ taken }: { taken: readonly Run[] }) {
  const [one, other] = taken;
  if (!one) {
    return <span className="max-sm:hidden">Tick two of a type to hold one against the other.</span>;
  }

  return other ? (
    <Link className="text-sm text-heather underline" to={`/debrief/${one.id}?with=${other.id}`}>
      Hold the two against one another
    </Link>
  ) : (
    <span>One is ticked; tick another of its type.</span>
  );
}

/** Stands for the rows that are out of sight. */
const Gap = ({ px }: { px: number }) => (px > 0 ? <tr aria-hidden style={{ height: px }} /> : null);

/** Ids asked for at once. */
const AT_ONCE = 50;

/** The signatures of all ended runs among the rows, asked for page by page: those that are here are not asked for again. */
function useSignatures(rows: readonly Run[]): Record<string, LinkHeld[]> {
  const ids = rows.filter((r) => r.ended && r.beginning !== "air").map((r) => r.id);
  return (
    useQuery({
      queryKey: ["signatures", ids],
      queryFn: async () => {
        const lacking = ids.filter((id) => !known.has(id));
        for (let from = 0; from < lacking.length; from += AT_ONCE) {
          const asked = lacking.slice(from, from + AT_ONCE);
          const found = await api.signatures(asked);
          asked.forEach((id) => known.set(id, found[id] ?? []));
        }

        return Object.fromEntries(ids.map((id) => [id, known.get(id) ?? []]));
      },
      staleTime: Infinity,
      placeholderData: (before) => before,
    }).data ?? none
  );
}

// A run that has ended keeps its signature.
const known = new Map<string, LinkHeld[]>();
const none: Record<string, LinkHeld[]> = {};

const column = createColumnHelper<Run>();

/** Others cannot be compared. */
const ofAKind = (a: Run, b: Run) => a.aircraft === b.aircraft && (a.beginning === "air") === (b.beginning === "air");

function columnsOf(fleet: Schemas["FleetView"] | undefined, held: Record<string, LinkHeld[]>) {
  const aircraft = (id: string) => fleet?.aircraft.find((a) => a.id === id);
  const longest = Math.max(1, ...Object.values(held).map(heldTotal));
  return [
    column.display({
      id: "taken",
      header: () => <span className="sr-only">Compare</span>,
      cell: ({ row }) => (
        <Tick
          label={`Compare ${row.original.pilot || "no callsign"}, ${row.original.created.slice(0, 16).replace("T", " ")}`}
          on={row.getIsSelected()}
          disabled={!row.getCanSelect()}
          onChange={(to) => row.toggleSelected(to)}
        />
      ),
    }),
    column.accessor("created", { header: "Flown (Z)", cell: (c) => <Flown at={c.getValue()} /> }),
    column.accessor("pilot", { header: "Callsign", cell: (c) => c.getValue() || "–" }),
    column.accessor("aircraft", { header: "Type", cell: (c) => aircraft(c.getValue())?.name ?? c.getValue() }),
    column.accessor("beginning", { header: "Start", cell: (c) => <Start run={c.row.original} fleet={fleet} /> }),
    column.accessor("place", {
      header: "Place",
      cell: (c) => <span className="text-xs whitespace-nowrap">{fleet?.places.find((p) => p.id === c.getValue())?.name ?? c.getValue()}</span>,
    }),
    column.accessor("seconds", { header: "Time", cell: (c) => <span className="num">{clock(c.getValue())}</span> }),
    column.display({
      id: "held",
      header: "Where it went",
      cell: (c) => {
        const links = held[c.row.original.id];
        return links && links.length > 0 ? <Signature label="Where the time went" links={links} span={longest} className="w-20 lg:w-32" /> : <span className="text-pale">–</span>;
      },
    }),
    column.accessor("peakC", { header: "Peak", cell: (c) => <span className="num whitespace-nowrap">{c.getValue() != null ? `${c.getValue()} °C` : "–"}</span> }),
    column.accessor("verdict", { header: "Verdict", cell: (c) => <VerdictOf run={c.row.original} /> }),
    column.display({ id: "ways", header: () => <span className="sr-only">What can be done</span>, cell: (c) => <Ways run={c.row.original} /> }),
  ];
}

/** Date and time: on a narrow page one under the other. */
function Flown({ at }: { at: string }) {
  return (
    <span className="num flex gap-x-2 text-xs whitespace-nowrap max-lg:flex-col">
      <span>{at.slice(0, 10)}</span>
      <span>{at.slice(11, 16)}</span>
    </span>
  );
}

/** How it began; only what the school chose otherwise than the first answer is worth a word. */
function Start({ run: r, fleet }: { run: Run; fleet?: Schemas["FleetView"] }) {
  const schools = fleet?.aircraft.find((a) => a.id === r.aircraft)?.beginnings.find((s) => s.beginning === r.beginning)?.schools ?? [];
  const chosen = Object.entries(r.school).flatMap(([question, answer]) => {
    const asked = schools.find((s) => s.id === question);
    return asked && asked.answers[0]?.id === answer ? [] : [asked?.answers.find((a) => a.id === answer)?.label ?? answer];
  });
  return (
    <span className="block max-w-28 text-xs lg:max-w-40">
      <span className="whitespace-nowrap">
        {beginnings[r.beginning] ?? r.beginning}
        {r.parent && <span className="text-pale"> · fork</span>}
      </span>
      {chosen.length > 0 && (
        <span className="block truncate text-2xs text-pale" title={chosen.join(", ")}>
          {chosen.join(", ")}
        </span>
      )}
    </span>
  );
}

function VerdictOf({ run: r }: { run: Run }) {
  const v = r.ended && r.verdict ? verdicts[r.verdict] : undefined;
  return v ? (
    <span className={`flex items-center gap-1.5 ${statusText[v.status]}`}>
      <Shape status={v.status} />
      <span className="text-xs lg:whitespace-nowrap" title={r.sentence ?? ""}>
        {v.word}
        {r.findings ? ` · ${r.findings} ${r.findings === 1 ? "finding" : "findings"}` : ""}
      </span>
    </span>
  ) : (
    <span className="text-xs text-pale">not ended</span>
  );
}

function Ways({ run: r }: { run: Run }) {
  const ways = [
    ["debrief", `/debrief/${r.id}`],
    ...(r.ended
      ? [["again", `/?run=${r.id}`]]
      : [
          ["go on", `/run/${r.id}`],
          ["look on", `/look/${r.id}`],
        ]),
  ] as const;
  return (
    <span className="flex justify-end gap-x-3 whitespace-nowrap">
      {ways.map(([word, to]) => (
        // A narrow page leads on by one: the debrief leads to the others.
        <Link key={word} className={clsx("text-heather underline", word !== (r.ended ? "debrief" : "go on") && "max-lg:hidden")} to={to!}>
          {word}
        </Link>
      ))}
    </span>
  );
}
