import type { Schemas, StartOutlook } from "../../api/client";
import { ChoiceField } from "../../ui/field";
import { difference } from "../../ui/format";
import { GivesUp } from "../../ui/start-outlook";
import { offered, type Situation } from "./situation";

interface Props {
  s: Situation;
  questions: readonly Schemas["SchoolQuestion"][];
  /** The start run ahead with every answer; undefined until it has been. */
  outlook: StartOutlook | undefined;
  /** The answers have a price that can be flown ahead. */
  priced: boolean;
  onChoose: (question: string, answer: string) => void;
}

/** The questions of the school, each answer with its price against the one in force. */
export function SchoolChoices({ s, questions, outlook, priced, onChoose }: Props) {
  const option = (question: string, answer: string) => outlook?.options.find((o) => o.question === question && o.answer === answer);
  return (
    <fieldset aria-label="School" className="grid gap-3 sm:grid-cols-2">
      {questions.map((q) => {
        const answers = offered(q, s);
        const chosen = answers.find((a) => a.id === s.school[q.id]) ?? answers[0]!;
        return (
          <ChoiceField
            key={q.id}
            label={q.question}
            name={`school.${q.id}`}
            value={chosen.id}
            onChange={(to) => onChoose(q.id, to)}
            options={answers.map((a) => [a.id, a.label, priced ? (a.id === chosen.id ? "as planned" : priceOf(outlook, option(q.id, a.id))) : undefined] as const)}
            note={
              <>
                {chosen.reason}
                {(priced ? answers : [])
                  .filter((a) => a.id !== chosen.id)
                  .map((a) => {
                    const given = option(q.id, a.id)?.givesUp ?? [];
                    return (
                      <div key={a.id} data-price={`${q.id}/${a.id}`}>
                        {a.label}: <span className="num text-bone">{priceOf(outlook, option(q.id, a.id))}</span>
                        {given.length > 0 && <GivesUp checks={given} />}
                      </div>
                    );
                  })}
              </>
            }
          />
        );
      })}
    </fieldset>
  );
}

/** What another answer costs or saves: time, heat, starter. */
function priceOf(outlook: StartOutlook | undefined, option: StartOutlook["options"][number] | undefined): string {
  if (!outlook || !option) {
    return outlook ? "makes no difference that can be flown ahead" : "…";
  }

  const [then, now] = [option.figures, outlook.asPlanned];
  if (then.readyS === null || then.readyS === undefined) {
    return "never ready";
  }

  return (
    [difference(then.readyS, now.readyS, " s"), difference(then.peakC, now.peakC, " °C"), difference(then.starterS, now.starterS, " s of starter")].filter(Boolean).join(", ") ||
    "costs the same"
  );
}
