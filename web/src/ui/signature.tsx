import clsx from "clsx";
import type { LinkHeld } from "../api/client";
import { clock } from "./format";

interface Props {
  links: readonly LinkHeld[];
  /** Seconds that the whole width stands for; the sum of the links where nothing is said. */
  span?: number;
  /** With the name and the time of every link that is wide enough to carry them, in a column or across a page. */
  named?: "column" | "page";
  /** What it is of, said before the links. */
  label: string;
  className?: string;
}

/** The share of the width that a letter of a name takes. */
const LETTER = { column: 0.021, page: 0.0085 };
/** A time takes as much as so many letters. */
const TIME_LETTERS = 5;

export const heldTotal = (links: readonly LinkHeld[]) => links.reduce((sum, l) => sum + l.seconds, 0);

/** A start as its chain: one cell a link, as wide as that link held the start back. */
export function Signature({ links, span, named, label, className }: Props) {
  const total = heldTotal(links);
  const width = span ?? total;
  if (total <= 0) {
    return null;
  }

  const words = links.filter((l) => l.seconds >= 0.5).map((l) => `${l.label} ${clock(l.seconds)}`);
  return (
    <div
      role="img"
      aria-label={`${label}: ${words.join(", ")}`}
      title={words.join(" · ")}
      data-testid="signature"
      data-total={Math.round(total)}
      className={clsx("min-w-0", className)}
    >
      <div className="flex gap-px" style={{ width: `${(100 * total) / width}%` }}>
        {links.map((l, i) => (
          <span
            key={l.id}
            data-held={l.id}
            className={clsx("min-w-px rounded-xs", i % 2 === 0 ? "bg-pale" : "bg-line", named ? "h-3" : "h-2")}
            style={{ flexGrow: l.seconds, flexBasis: 0 }}
          />
        ))}
      </div>
      {named && (
        <div aria-hidden className="flex gap-px text-2xs leading-4" style={{ width: `${(100 * total) / width}%` }}>
          {links.map((l) => (
            <span key={l.id} className="min-w-px overflow-hidden" style={{ flexGrow: l.seconds, flexBasis: 0 }}>
              {l.seconds / width >= LETTER[named] * Math.max(TIME_LETTERS, l.label.length) && (
                <>
                  <span className="block whitespace-nowrap text-pale">{l.label}</span>
                  <span className="num block">{clock(l.seconds)}</span>
                </>
              )}
            </span>
          ))}
        </div>
      )}
    </div>
  );
}

/** Two starts one above the other, to the same scale. */
export function SignaturePair({
  upper,
  lower,
  named,
}: {
  named: "column" | "page";
  upper: { label: string; links: readonly LinkHeld[] };
  lower: { label: string; links: readonly LinkHeld[] };
}) {
  const span = Math.max(heldTotal(upper.links), heldTotal(lower.links));
  return (
    <div className="flex flex-col gap-2">
      {[upper, lower].map((s) => (
        <div key={s.label}>
          <p className="mb-0.5 flex justify-between gap-2 text-2xs text-pale">
            <span>{s.label}</span>
            <span className="num">{clock(heldTotal(s.links))}</span>
          </p>
          <Signature label={s.label} links={s.links} span={span} named={named} />
        </div>
      ))}
    </div>
  );
}
