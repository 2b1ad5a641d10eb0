/** Pictures of one thing: dropped or taken, with progress; a click opens one to draw on. */
import Button from "react-bootstrap/Button";
import { useRef, useState } from "react";
import { useOutletContext } from "react-router";

import { newKey, type Photo, Problem, tokenNow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { type PhotosOf, usePhotos, useRefresh } from "../app/queries";
import { Said, Waiting } from "../marks/Said";
import { when } from "../marks/words";
import { Overlay } from "./Overlay";
import { PhotoEditor } from "./PhotoEditor";
import { TextField } from "../kit/fields";
import "./record.css";

type Props = {
  of: PhotosOf;
  target: string;
  targetId: string;
  /** What a new picture may prove here: `before closing`, `witness mark`. */
  shows?: string;
};

export function Photos(p: Props) {
  const { aircraft } = useOutletContext<FrameContext>();
  const photos = usePhotos(aircraft.slug, p.of);
  const [open, setOpen] = useState<number | null>(null);
  const may = aircraft.may.includes("write");
  const chosen = photos.data?.results.find((x) => x.id === open);
  return (
    <div className="photos">
      {!photos.data && <Waiting error={photos.error} />}
      {photos.data?.count === 0 && <p className="quiet">No picture yet.</p>}
      <ul className="thumbs">
        {photos.data?.results.map((x) => (
          <li key={x.id}>
            <button type="button" onClick={() => setOpen(open === x.id ? null : x.id)}>
              <Thumb photo={x} />
              <span>{x.caption || "no caption"}</span>
              <span className="quiet">
                {x.shows && `${x.shows}, `}
                {when(x.taken_at)}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {chosen && (
        <PhotoEditor
          key={`${chosen.id}.${chosen.version}`}
          photo={chosen}
          onClose={() => setOpen(null)}
        />
      )}
      {may && <AddPhoto {...p} slug={aircraft.slug} />}
    </div>
  );
}

export function Thumb({ photo }: { photo: Photo }) {
  return (
    <span className="thumb">
      <img src={photo.thumb} alt={photo.caption || photo.shows || "picture"} loading="lazy" />
      <Overlay marks={photo.overlay} width={photo.width} height={photo.height} />
    </span>
  );
}

function AddPhoto(p: Props & { slug: string }) {
  const refresh = useRefresh(p.slug);
  const [caption, setCaption] = useState("");
  const [shows, setShows] = useState(false);
  const [progress, setProgress] = useState<number | null>(null);
  const [over, setOver] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const input = useRef<HTMLInputElement>(null);
  const send = async (files: FileList | null) => {
    for (const file of files ?? []) {
      const form = new FormData();
      form.set("file", file);
      form.set("target", p.target);
      form.set("target_id", p.targetId);
      form.set("caption", caption);
      form.set("shows", shows && p.shows ? p.shows : "");
      try {
        setProgress(0);
        await upload(`/api/aircraft/${p.slug}/photos`, form, setProgress);
        setError(null);
        setCaption("");
      } catch (e) {
        setError(e);
      } finally {
        setProgress(null);
        if (input.current) input.current.value = "";
      }
    }
    await refresh();
  };
  return (
    <div
      className={`drop ${over ? "drop-over" : ""}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void send(e.dataTransfer.files);
      }}
    >
      <TextField
        label="What it shows"
        value={caption}
        set={setCaption}
        hint="bellcrank from the left"
      />
      {p.shows && (
        <label className="tick">
          <input type="checkbox" checked={shows} onChange={(e) => setShows(e.target.checked)} />
          It is the picture of {p.shows === "witness mark" ? "the witness mark" : "before closing"}
        </label>
      )}
      <input
        ref={input}
        className="visually-hidden"
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        aria-label="Picture"
        onChange={(e) => void send(e.target.files)}
      />
      <Button variant="outline-primary" type="button" onClick={() => input.current?.click()}>
        Take or choose a picture
      </Button>
      <span className="quiet">or drop it here; its location is taken out, its time is kept</span>
      {progress !== null && (
        <progress value={progress} max={1} aria-label="Upload">
          {Math.round(progress * 100)} %
        </progress>
      )}
      <Said error={error} />
    </div>
  );
}

/** A file with its progress, which fetch does not tell. */
function upload(path: string, form: FormData, progress: (share: number) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", path);
    request.setRequestHeader("X-CSRFToken", tokenNow());
    request.setRequestHeader("Idempotency-Key", newKey());
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onload = () => {
      if (request.status < 300) return resolve();
      reject(Problem.of(request.status, request.responseText));
    };
    request.onerror = () =>
      reject(new Problem(0, "No connection. Choose the picture again later."));
    request.send(form);
  });
}
