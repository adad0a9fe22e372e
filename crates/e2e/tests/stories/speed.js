// Measures what a person waits for. Runs in every page before its own scripts.
(() => {
  const long = [];
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) long.push(e.duration);
  }).observe({ type: "longtask", buffered: true });

  /** Milliseconds from the start of the page until an element is drawn; kept as `ready`. */
  const first = (css) => {
    const look = () => {
      if (document.querySelector(css)) speed.ready ??= performance.now();
      else requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  };

  /** Milliseconds from an act until the last change that it makes has been drawn. */
  const settled = async (act, css) => {
    const start = performance.now();
    let last = start;
    const watch = new MutationObserver(() => requestAnimationFrame(() => setTimeout(() => (last = performance.now()))));
    for (const e of document.querySelectorAll(css)) {
      watch.observe(e, { subtree: true, childList: true, characterData: true, attributes: true });
    }
    act();
    // Done when nothing has changed for a while, or something must still come.
    for (;;) {
      await new Promise((r) => setTimeout(r, 50));
      const quiet = performance.now() - last;
      if ((last > start && quiet > 200) || quiet > 5000) break;
    }
    watch.disconnect();
    return last - start;
  };

  /** Milliseconds from an act until an element is drawn. */
  const until = async (act, css) => {
    const start = performance.now();
    act();
    while (!document.querySelector(css)) await new Promise(requestAnimationFrame);
    return performance.now() - start;
  };

  const key = (css, name) => {
    const target = document.querySelector(css);
    target.focus();
    target.dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true }));
  };

  /** Frames from now until `stop`. */
  const frames = { count: 0, from: 0, going: false };
  const start = () => {
    Object.assign(frames, { count: 0, from: performance.now(), going: true });
    long.length = 0;
    const next = () => {
      frames.count += 1;
      if (frames.going) requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  };
  const stop = () => {
    frames.going = false;
    return (frames.count * 1000) / (performance.now() - frames.from);
  };

  /** Frames a second while a table scrolls. */
  const scroll = async (css, step) => {
    const box = document.querySelector(css);
    start();
    const end = performance.now() + 2000;
    let coming = 0;
    while (performance.now() < end) {
      box.scrollTop += step;
      await new Promise(requestAnimationFrame);
      coming += document.querySelectorAll(".coming").length > 0 ? 1 : 0;
    }
    return { frames: stop(), coming };
  };

  const speed = { ready: null, long, first, settled, until, key, start, stop, scroll };
  window.speed = speed;
  first("[data-testid=survivor] .cell.n");
})();
