import { Dialog } from "../../ui/dialog";
import { keyList } from "./use-keys";

export function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Keys">
      <dl className="grid grid-cols-[6rem_1fr] gap-y-2 text-sm">
        {keyList.map(([key, what]) => (
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
