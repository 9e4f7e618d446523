"use strict";
(() => {
  const find = document.getElementById("find");
  const said = document.getElementById("found");
  const rows = [...document.querySelectorAll("tr[data-f]")];
  const look = () => {
    const wanted = find.value.trim().toLowerCase();
    let shown = 0;
    for (const row of rows) {
      const hit = wanted === "" || row.textContent.toLowerCase().includes(wanted);
      row.hidden = !hit;
      if (hit) shown++;
    }
    for (const stop of document.querySelectorAll(".stop")) {
      const own = [...stop.querySelectorAll("tr[data-f]")];
      stop.hidden = wanted !== "" && own.length > 0 && own.every((r) => r.hidden) && !stop.querySelector("h3").textContent.toLowerCase().includes(wanted);
    }
    said.textContent = wanted === "" ? "" : said.dataset.words.replace("##", rows.length).replace("#", shown);
  };
  find.addEventListener("input", look);
  document.getElementById("tools").hidden = false;
  const key = document.documentElement.dataset.pack;
  const store = (() => {
    try {
      return window.localStorage;
    } catch {
      return null;
    }
  })();
  const ticked = new Set(JSON.parse(store?.getItem(key) ?? "[]"));
  for (const box of document.querySelectorAll("input[data-tick]")) {
    box.checked = ticked.has(box.dataset.tick);
    box.addEventListener("change", () => {
      if (box.checked) ticked.add(box.dataset.tick);
      else ticked.delete(box.dataset.tick);
      store?.setItem(key, JSON.stringify([...ticked]));
    });
  }
})();
