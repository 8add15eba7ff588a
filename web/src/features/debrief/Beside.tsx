import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import { api, type Comparison, type Debrief, type Schemas } from "../../api/client";
import { Choice } from "../../ui/choice";
import { clock } from "../../ui/format";
import { SignaturePair } from "../../ui/signature";
import { verdicts } from "../../ui/verdicts";

/** So many runs are offered; any other is chosen in the logbook. */
const OFFERED = "60";

interface Props {
  d: Debrief;
  /** The other run; empty where there is none. */
  other: string;
  onOther: (id: string) => void;
}

/** This run beside another one of its type: what the difference comes to, where the time went in each, when each phase was done, what was found in one alone. */
export function Beside({ d, other, onOther }: Props) {
  const runs = useQuery({ queryKey: ["runs", "beside", d.header.aircraft], queryFn: () => api.runs({ aircraft: d.header.aircraft, limit: OFFERED }) });
  const compared = useQuery({ queryKey: ["comparison", d.id, other], queryFn: ({ signal }) => api.comparison(d.id, other, signal), enabled: other !== "", retry: false });
  const offered = (runs.data?.runs ?? []).filter((r) => r.id !== d.id && (r.beginning === "air") === (d.header.flight != null));
  const options = offered.map((r) => [r.id, named(r), r.id === d.parent ? "this one was forked from it" : undefined] as const);
  return (
    <section className="rounded-lg bg-panel p-4" aria-label="Beside another run">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto font-bold">Beside another run</h2>
        {other && (
          <Link to={`/debrief/${other}?with=${d.id}`} className="text-sm text-heather underline">
            the other’s debrief
          </Link>
        )}
        <Choice
          aria-label="Compare with"
          name="beside"
          className="max-w-80"
          value={other}
          onChange={onOther}
          options={[["", "none"], ...options, ...(other && !offered.some((r) => r.id === other) ? [[other, "the one that was chosen"] as const] : [])]}
        />
      </div>
      {[runs.error, compared.error]
        .filter((e) => e !== null)
        .map((e) => (
          <p key={e.message} role="alert" className="mt-2 text-sm text-caution">
            ▲ {e.message}
          </p>
        ))}
      {other && compared.isPending && <p className="mt-2 text-sm text-pale">Comparing…</p>}
      {other && compared.data && <Compared c={compared.data} />}
    </section>
  );
}

const named = (r: Schemas["RunPage"]["runs"][number]) =>
  [
    r.created.slice(0, 16).replace("T", " "),
    r.pilot || "no callsign",
    clock(r.seconds),
    r.ended && r.verdict ? (verdicts[r.verdict]?.word.toLowerCase() ?? "") : "not ended",
  ].join(" · ");

function Compared({ c }: { c: Comparison }) {
  return (
    <div className="mt-2 flex flex-col gap-4">
      <p data-testid="compared">{c.sentence}</p>
      {c.here && c.there && <SignaturePair named="page" upper={{ label: "This one", links: c.here.links }} lower={{ label: "The other", links: c.there.links }} />}
      <div className="grid gap-x-6 gap-y-4 md:grid-cols-2">
        <Phases phases={c.phases} />
        <Findings findings={c.findings} />
      </div>
    </div>
  );
}

const at = (s: number | null | undefined) => (s == null ? "–" : s === 0 ? "already set" : clock(s));

function apart(here: number | null | undefined, there: number | null | undefined) {
  if (here == null || there == null) {
    return "";
  }

  // By the seconds that are shown beside it.
  const by = Math.floor(here) - Math.floor(there);
  return by === 0 ? "=" : `${by > 0 ? "+" : "−"}${clock(Math.abs(by))}`;
}

function Phases({ phases }: { phases: Comparison["phases"] }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <table className="w-full self-start text-sm" data-testid="phases">
      <thead>
        <tr className="text-2xs text-pale">
          {["Done with", "this one", "the other", "apart"].map((h, i) => (
            <th key={h} scope="col" className={`font-normal whitespace-nowrap ${i === 0 ? "text-left" : "pl-3 text-right"}`}>
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {phases.map((p) => (
          <Fragment key={p.id}>
            <Row label={p.title} here={p.hereS} there={p.thereS} open={open === p.id} onOpen={() => setOpen(open === p.id ? null : p.id)} />
            {open === p.id && p.steps.map((s) => <Row key={s.step} label={s.cue} here={s.hereS} there={s.thereS} />)}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

function Row({ label, here, there, open, onOpen }: { label: string; here: number | null; there: number | null; open?: boolean; onOpen?: () => void }) {
  return (
    <tr className={onOpen ? "border-t border-line" : "text-xs text-pale"}>
      <th scope="row" className={`py-1 text-left font-normal ${onOpen ? "" : "pl-4"}`}>
        {onOpen ? (
          <button type="button" aria-expanded={open} onClick={onOpen} className="text-left hover:text-heather">
            <span aria-hidden className="mr-1 inline-block w-3 text-pale">
              {open ? "−" : "+"}
            </span>
            {label}
          </button>
        ) : (
          label
        )}
      </th>
      {[at(here), at(there), apart(here, there)].map((text, i) => (
        <td key={i} className="num py-1 pl-3 text-right whitespace-nowrap">
          {text}
        </td>
      ))}
    </tr>
  );
}

const sides = [
  ["Found in this one alone", (f: Comparison["findings"][number]) => f.here && !f.there],
  ["Found in the other alone", (f: Comparison["findings"][number]) => f.there && !f.here],
  ["Found in both", (f: Comparison["findings"][number]) => f.here && f.there],
] as const;

function Findings({ findings }: { findings: Comparison["findings"] }) {
  return (
    <div className="text-sm" data-testid="found-beside">
      {sides.map(([title, of]) => {
        const found = findings.filter(of);
        return (
          <div key={title} className="border-t border-line py-1 first:border-t-0">
            <h3 className="text-2xs text-pale">{title}</h3>
            {found.length === 0 ? (
              <p className="text-pale">–</p>
            ) : (
              <ul>
                {found.map((f, i) => (
                  <li key={i}>{f.found.what}</li>
                ))}
              </ul>
            )}
          </div>
        );
      })}
    </div>
  );
}
