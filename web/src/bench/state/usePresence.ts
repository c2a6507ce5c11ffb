import { useEffect, useState } from "react";
import { onHub, sayToHub } from "../../api/queries";

export interface Person {
  name: string;
  displayName: string;
}

/** Who else has this look open. */
export function usePresence(look: string, self: string | null | undefined): Person[] {
  const [people, setPeople] = useState<Person[]>([]);
  useEffect(() => {
    const stop = onHub("presence", (told: { look: string; people: Person[] }) => {
      if (told.look === look) setPeople(told.people);
    });
    const left = sayToHub("Watch", look);
    return () => {
      stop();
      left();
    };
  }, [look]);
  return people.filter((p) => p.name !== self);
}
