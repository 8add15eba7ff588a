import type { WhyAnswer } from "../api/client";
import { Button } from "./button";
import { Shape } from "./status";

/** The chains of unmet conditions of an answer: each deeper row is why the one above it is unmet. */
export function WhyChains({ answer, onGoTo }: { answer: WhyAnswer; onGoTo?: (control: string, to?: string) => void }) {
  const missing = answer.effects.filter((e) => !e.works);
  const works = answer.effects.filter((e) => e.works);
  return (
    <div className="mt-2 flex flex-col gap-3 text-sm">
      {missing.map((effect) => (
        <section key={effect.signal} data-effect={effect.signal}>
          <p className="flex gap-1.5">
            <Shape status="caution" /> {effect.label}
          </p>
          <ol className="mt-1">
            {effect.chain.map((u, i) => (
              <li key={`${u.signal}/${i}`} data-unmet={u.signal} className="flex items-center gap-2 border-t border-line py-1" style={{ paddingLeft: `${1.1 + u.depth * 0.9}rem` }}>
                <span className="min-w-0 flex-1">
                  {u.label} <span className="num text-pale">{u.asked}</span>
                  {u.cure && !u.cure.control && <span className="block text-xs text-pale">{u.cure.words}</span>}
                </span>
                <span className="num text-caution">{u.now}</span>
                {u.cure?.control &&
                  (onGoTo ? (
                    <Button size="small" data-goto={u.cure.control} onClick={() => onGoTo(u.cure!.control!, u.cure!.to ?? undefined)}>
                      {u.cure.words.replace(/\.$/, "")}
                    </Button>
                  ) : (
                    <span className="text-xs">{u.cure.words}</span>
                  ))}
              </li>
            ))}
          </ol>
        </section>
      ))}
      {works.length > 0 && (
        <p className="text-xs text-pale">
          <Shape status="ready" /> Works: {works.map((e) => e.label).join(" · ")}
        </p>
      )}
    </div>
  );
}
