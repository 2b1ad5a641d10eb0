/** The selected bay lives in the address, so that a link shows a colleague the same. */
import { useSearchParams } from "react-router";

export function useBay(): [string | null, (bay: string | null) => void] {
  const [search, setSearch] = useSearchParams();
  const set = (bay: string | null) => {
    setSearch((before) => {
      const after = new URLSearchParams(before);
      if (bay) after.set("bay", bay);
      else after.delete("bay");
      return after;
    });
  };
  return [search.get("bay"), set];
}
