/** Writes that the server has not acknowledged: kept in the browser, offered again. */
import { useSyncExternalStore } from "react";

import { newKey, Problem, send } from "./api";

export type Unsent = {
  key: string;
  path: string;
  body: unknown;
  label: string;
  who: string;
  method?: string;
};

const STORE = "ashlane.unsent";
const DRAFT = "ashlane.draft.";
const listeners = new Set<() => void>();
/** Those on their way now: they are not offered again until their answer is lost. */
const underway = new Set<string>();
let cached = read();
let waiting = cached;

function read(): Unsent[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(STORE) ?? "[]");
    return Array.isArray(kept) ? (kept as Unsent[]) : [];
  } catch {
    return [];
  }
}

function write(list: Unsent[]): void {
  localStorage.setItem(STORE, JSON.stringify(list));
  cached = list;
  tell();
}

function tell(): void {
  waiting = cached.filter((u) => !underway.has(u.key));
  listeners.forEach((l) => l());
}

/** Send one write. It stays in the outbox until the server has answered, yes or no. */
async function deliver(one: Unsent): Promise<unknown> {
  underway.add(one.key);
  tell();
  try {
    const response = await send(one.path, {
      method: one.method ?? "POST",
      body: JSON.stringify(one.body),
      headers: { "Content-Type": "application/json", "Idempotency-Key": one.key },
    });
    forget(one.key);
    return (await response.json()) as unknown;
  } catch (error) {
    // A refusal is an answer: the row shows it, with what was typed still there.
    if (error instanceof Problem && error.status >= 400 && error.status < 500) forget(one.key);
    throw error;
  } finally {
    underway.delete(one.key);
    tell();
  }
}

export async function post(
  path: string,
  body: unknown,
  label: string,
  who: string,
  method = "POST",
) {
  const one: Unsent = { key: newKey(), path, body, label, who, method };
  underway.add(one.key);
  write([...cached, one]);
  return deliver(one);
}

export const again = (one: Unsent) => deliver(one);

export function forget(key: string): void {
  write(cached.filter((u) => u.key !== key));
}

export function useUnsent(): Unsent[] {
  return useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => waiting,
  );
}

/** How many writes of this person are not acknowledged. */
export const unsentOf = (who: string): number => cached.filter((u) => u.who === who).length;

/** At sign-out nothing of what was typed stays for whoever comes next. */
export function emptied(): void {
  write([]);
  Object.keys(localStorage)
    .filter((k) => k.startsWith(DRAFT))
    .forEach((k) => localStorage.removeItem(k));
}

/** A draft of what is being typed, so that a reload brings it back. */
export const draft = {
  read: (name: string): string => localStorage.getItem(DRAFT + name) ?? "",
  keep: (name: string, text: string): void => {
    if (text) localStorage.setItem(DRAFT + name, text);
    else localStorage.removeItem(DRAFT + name);
  },
};
