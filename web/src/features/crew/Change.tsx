import type { Shapes } from "../../api/client";
import { at } from "../../kit/words";
import { useWeek } from "../week/context";

/** What changes hands when somebody who is busy takes a seat: what they take, and what they give for it. */
export function Change({ swap }: { swap: Shapes["ExchangeOffer"] }) {
  const { now } = useWeek();
  const told = (seats: Shapes["ExchangedSeat"][]) =>
    seats.map((s) => `${s.job} at ${at(s.start, s.day, now.timezone)}`).join(", ");
  return (
    <div className="small soft">
      takes {told(swap.takes)}; gives {told(swap.gives)}
    </div>
  );
}
