import { Dialog } from "./dialog";
import { helpTexts } from "./help-texts";

interface Props {
  open: boolean;
  onClose: () => void;
  /** The screen that is open. */
  screen: string;
  keys?: readonly (readonly [string, string])[];
}

/** How to read the screen that is open, and its keys. */
export function Help({ open, onClose, screen, keys = [] }: Props) {
  return (
    <Dialog open={open} onClose={onClose} title="How to read this screen" wide>
      <ol data-testid="help" className="flex list-decimal flex-col gap-1 pl-5 text-sm">
        {helpTexts[screen]?.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ol>
      <h3 className="mt-4 mb-1.5 font-bold">Keys</h3>
      <dl className="grid grid-cols-[5rem_1fr] gap-y-1.5 text-sm">
        {[...keys, ["?", "This page"] as const].map(([key, what]) => (
          <div key={key} className="contents">
            <dt className="num text-heather">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-xs text-pale">A rehearsal aid. The approved manual, local rules and licensed practice always win.</p>
    </Dialog>
  );
}
