import { useQuery } from "@tanstack/react-query";
import { api, type Debrief } from "../../api/client";
import { clock } from "../../ui/format";
import { Signature, SignaturePair } from "../../ui/signature";

/** The stretches that are told one by one. */
const TOLD = 5;

/** Where the time of a start went: its signature over that of a start by the book, and the longest stretches with what they were waiting for. */
export function TimeHeld({ d, onPick }: { d: Debrief; onPick: (t: number) => void }) {
  const starts = useQuery({ queryKey: ["starts", d.id, "debrief"], queryFn: () => api.starts(d.id), enabled: d.held != null, retry: false });
  if (!d.held || d.held.spells.length === 0) {
    return null;
  }

  const book = starts.data?.plannedHeld;
  const longest = [...d.held.spells].sort((a, b) => b.toS - b.fromS - (a.toS - a.fromS)).slice(0, TOLD);
  const label = (link: string) => d.held!.links.find((l) => l.id === link)?.label ?? link;
  return (
    <section className="rounded-lg bg-panel p-4" aria-label="Where the time went">
      <h2 className="mb-2 font-bold">Where the time went</h2>
      {book ? (
        <SignaturePair named="page" upper={{ label: "This start", links: d.held.links }} lower={{ label: "By the book, the same day", links: book.links }} />
      ) : (
        <Signature label="This start" links={d.held.links} named="page" />
      )}
      <ol className="mt-3 text-xs">
        {longest.map((s) => (
          <li key={s.step} className="border-t border-line">
            <button type="button" data-spell={s.step} onClick={() => onPick(s.fromS)} className="flex w-full items-baseline gap-3 py-1 text-left hover:text-heather">
              <span className="num w-12 text-right">{clock(s.toS - s.fromS)}</span>
              <span className="w-20 text-pale">{label(s.link)}</span>
              <span className="min-w-0 flex-1">
                {s.waited ? "waited for: " : "up to: "}
                {s.cue}
              </span>
              <span className="num text-pale">
                {clock(s.fromS)}–{clock(s.toS)}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
