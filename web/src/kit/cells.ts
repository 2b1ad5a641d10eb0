/** Cells of a pasted or opened table: parted by tabs, else by semicolons, else by commas. */

/** Lines of cells; a cell in quotes may hold the mark that parts them, and "" for a quote. */
export function cellsOf(text: string): string[][] {
  const whole = text.replace(/^\ufeff/, "").replace(/(\r?\n)+$/, "");
  const mark = whole.includes("\t") ? "\t" : whole.includes(";") ? ";" : ",";
  // One line without a tab is what somebody types into one cell.
  if (mark !== "\t" && !/\n/.test(whole)) return [[whole]];
  const lines: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const end = () => {
    lines.at(-1)?.push(cell.trim());
    cell = "";
  };
  for (let i = 0; i < whole.length; i++) {
    const c = whole[i] as string;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (whole[i + 1] === '"') {
        cell += '"';
        i++;
      } else quoted = false;
    } else if (c === '"' && cell.trim() === "") {
      cell = "";
      quoted = true;
    } else if (c === mark) end();
    else if (c === "\n") {
      end();
      lines.push([]);
    } else if (c !== "\r") cell += c;
  }
  end();
  return lines;
}

/** Without a first line that only says what the columns are. */
export function withoutHead(lines: string[][], labels: readonly string[]): string[][] {
  const plain = (s: string) => (s.toLowerCase().split(/[,*(]/)[0] ?? "").trim();
  const known = new Set(labels.map(plain));
  const [first = []] = lines;
  const head =
    first.length > 1 && first.filter((c) => known.has(plain(c))).length > first.length / 2;
  return head ? lines.slice(1) : lines;
}
