/** What can be taken away of a thing: files beside each other. */
export function TakeIt(p: { at: string; of: readonly (readonly [file: string, word: string])[] }) {
  return (
    <p className="take-it">
      {p.of.map(([file, word]) => (
        <a key={file} href={`${p.at}/${file}`} download>
          {word}
        </a>
      ))}
    </p>
  );
}
