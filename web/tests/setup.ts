/** Addresses that begin at this page, as in a browser; before each test an empty store and page. */
import { cleanup, configure } from "@testing-library/react";
import { afterEach, beforeEach, vi } from "vitest";

const inPage = typeof document !== "undefined";

// A machine that does much else is slow, not wrong.
configure({ asyncUtilTimeout: 15_000 });

globalThis.Request = class extends globalThis.Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, location.href) : input, init);
  }
};

// There is no screen to ask about: every question of the kind is answered no.
const screenless = { matches: false, addListener: vi.fn(), removeListener: vi.fn() };
Object.assign(globalThis, { matchMedia: () => screenless });

beforeEach(() => {
  if (inPage) localStorage.clear();
});

afterEach(() => {
  if (inPage) cleanup();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});
