import { useQuery } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { clock } from "../../ui/format";
import { RadioCards } from "../../ui/radio-cards";
import { Signature } from "../../ui/signature";

interface Props {
  fleet: Schemas["FleetView"];
  value: string;
  onChange: (id: string) => void;
}

/** Today's jet: each type with how it starts in three words, and its chain, every link as wide as it takes by the book. */
export function AircraftPicker({ fleet, value, onChange }: Props) {
  const books = useQuery({ queryKey: ["book-starts"], queryFn: api.bookStarts, staleTime: Infinity }).data;
  return (
    <RadioCards
      label="Aircraft"
      value={value}
      onChange={onChange}
      className="grid grid-cols-2 gap-2 sm:grid-cols-4 xl:grid-cols-7"
      cardClassName="px-2.5 py-1.5"
      options={fleet.aircraft.map((a) => {
        const book = books?.find((b) => b.aircraft === a.id);
        return {
          value: a.id,
          content: (
            <>
              <span className="flex items-baseline justify-between gap-1">
                <b className="text-sm">{a.name}</b>
                <span className="num text-2xs text-pale">{book?.readyS != null && clock(book.readyS)}</span>
              </span>
              <span className="block text-2xs leading-4">{a.startsBy}</span>
              <span className="mt-1 block h-2">{book?.held && <Signature label={`A start of ${a.name} by the book`} links={book.held.links} />}</span>
            </>
          ),
        };
      })}
    />
  );
}
