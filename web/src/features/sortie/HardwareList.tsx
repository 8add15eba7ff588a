import { useQuery } from "@tanstack/react-query";
import { api, type RunHeader } from "../../api/client";
import { Dialog } from "../../ui/dialog";

/** Where every control stands when the run begins, to set a real bench alike before starting. */
export function HardwareList({ header, onClose }: { header: RunHeader; onClose: () => void }) {
  const list = useQuery({ queryKey: ["positions", JSON.stringify(header)], queryFn: () => api.positions(header), retry: false });
  const differ = list.data?.filter((p) => p.differs).length ?? 0;
  return (
    <Dialog open onClose={onClose} title="Match my hardware">
      <p className="text-sm text-pale">
        Set your bench to these positions, then begin.{" "}
        {header.start === "turnaround" ? "It gives away what the last pilot left: let somebody else set it, if you want the sweep to be real." : ""}
      </p>
      {list.error && <p className="mt-2 text-sm text-caution">▲ {list.error.message}</p>}
      {list.data && (
        <>
          {differ > 0 && <p className="mt-2 text-sm text-caution">▲ {differ} not as on a cold jet</p>}
          <table className="mt-2 w-full text-sm" data-testid="hardware-list">
            <tbody>
              {[...list.data]
                .sort((a, b) => Number(b.differs) - Number(a.differs))
                .map((p) => (
                  <tr key={p.control} data-differs={p.differs} className="border-t border-line">
                    <td className="py-1">{p.label}</td>
                    <td className={`num py-1 text-right ${p.differs ? "font-bold text-caution" : ""}`}>
                      {p.differs ? "▲ " : ""}
                      {p.at}
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
        </>
      )}
    </Dialog>
  );
}
