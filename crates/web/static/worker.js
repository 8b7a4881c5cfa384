// Keeps the page of a running class on the device, so that it can be loaded again without a server: the pages of today's class and the files they need, and no
// words about what somebody spares. Whatever the server still answers comes from there.
"use strict";
const KEPT = "class";
const LONGEST_MS = 12 * 3600 * 1000;
const PAGE = /^\/(days\/[^/]+\/floor|me\/now|wall\/[^/]+|guest\/[^/]+)$/;
const FILE = /^\/static\//;
// What a server that struggles is waited for before the page of before is shown.
const PATIENCE_MS = 4000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  const { request } = event, { pathname, origin } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate" && PAGE.test(pathname)) event.respondWith(page(request));
  else if (FILE.test(pathname)) event.respondWith(file(request));
});

// A page that was there before this, or a class that is over.
self.addEventListener("message", (event) => {
  const { keep: kept, forget } = event.data, url = new URL(kept ?? forget);
  if (url.origin !== self.location.origin || !PAGE.test(url.pathname)) return;
  event.waitUntil(kept ? page(new Request(url)) : caches.open(KEPT).then((cache) => cache.delete(url.href)));
});

async function page(request) {
  const cache = await caches.open(KEPT), answer = fetch(request);
  const late = new Promise((_, refuse) => setTimeout(() => refuse(new Error("late")), PATIENCE_MS));
  try {
    const come = await Promise.race([answer, late]);
    if (come.status >= 500) throw new Error(String(come.status));
    if (come.ok && !come.redirected) await keep(cache, request, come.clone());
    // Signed out, or no such class any more: then nothing is kept of it either.
    else await cache.delete(request);
    return come;
  } catch {
    const kept = await cache.match(request);
    if (kept && Date.now() - Number(kept.headers.get("X-Kept")) < LONGEST_MS) return kept;
    return answer;
  }
}

// `days` of a control page, `wall`, `me`, `guest`; nothing for files.
const kind = (url) => PAGE.exec(new URL(url).pathname)?.[1].split("/")[0];

// One class at a time: what such a page kept of another goes.
async function keep(cache, request, answer) {
  for (const other of await cache.keys()) {
    if (kind(other.url) && kind(other.url) === kind(request.url) && other.url !== request.url) await cache.delete(other);
  }
  const headers = new Headers(answer.headers);
  headers.set("X-Kept", String(Date.now()));
  headers.delete("Content-Encoding");
  headers.delete("Content-Length");
  const text = (await answer.text()).replace(/"mark":"[^"]*"/g, '"mark":null');
  await cache.put(request, new Response(text, { headers }));
}

async function file(request) {
  const cache = await caches.open(KEPT), kept = await cache.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) {
    // A file's address holds what is in it: what stood at another address of the same name is from before.
    const name = (url) => new URL(url).pathname.split("/").slice(3).join("/");
    for (const other of await cache.keys()) {
      if (FILE.test(new URL(other.url).pathname) && name(other.url) === name(request.url)) await cache.delete(other);
    }
    await cache.put(request, answer.clone());
  }
  return answer;
}
