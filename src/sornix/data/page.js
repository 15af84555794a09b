"use strict";
/* The page of a figure: reading under the pointer and by arrow keys, series shown and hidden, a
   closer look, the numbers as a table. It asks nothing of any other place. */
(function () {
  const NS = "http://www.w3.org/2000/svg";
  const data = JSON.parse(document.getElementById("data").textContent);
  const svg = document.querySelector("figure svg");
  const flag = document.getElementById("flag");
  const said = document.getElementById("reading");
  const back = document.getElementById("back");
  const hidden = new Set();
  const looks = [];
  let look = data.panels.map(() => [0, 1, 0, 1]);
  let at = null;

  const make = (name, told, into) => {
    const made = document.createElementNS(NS, name);
    for (const key in told) made.setAttribute(key, told[key]);
    if (into) into.append(made);
    return made;
  };
  const over = make("g", { class: "over" }, svg);
  const ring = make("circle", { r: 1.6, class: "ring", visibility: "hidden" }, over);
  const box = make("rect", { class: "box", visibility: "hidden" }, over);

  /* -- scales: where values stand, 0 to 1, and what stands there -------------------------- */
  const bent = { even: (v) => v, log: Math.log, reciprocal: (v) => -1 / v };
  const straight = { even: (v) => v, log: Math.exp, reciprocal: (v) => -1 / v };
  function place(scale, value) {
    const f = bent[scale.kind], a = f(scale.start), b = f(scale.end);
    const part = (f(value) - a) / (b - a);
    return scale.reversed ? 1 - part : part;
  }
  function valueAt(scale, part) {
    const f = bent[scale.kind], a = f(scale.start), b = f(scale.end);
    return straight[scale.kind](a + (scale.reversed ? 1 - part : part) * (b - a));
  }

  /* -- words ---------------------------------------------------------------------------- */
  const SUPER = "⁰¹²³⁴⁵⁶⁷⁸⁹";
  function number(value, digits) {
    let text = digits === undefined ? String(value) : value.toFixed(digits);
    if (Number(text) === 0) text = text.replace("-", "");
    const parts = text.split("e");
    if (parts.length === 2) {
      const power = parts[1].replace("+", "").replace("-", "⁻").replace(/\d/g, (d) => SUPER[d]);
      text = (parts[0] === "1" ? "" : parts[0] + "×") + "10" + power;
    }
    return text.replace("-", "−");
  }
  function moment(seconds, length) {
    const made = new Date(Math.round(seconds * 1000));
    return isNaN(made) ? "" : made.toISOString().replace("T", " ").slice(0, length);
  }
  function words(column, value) {
    if (column.names) return column.names[value] === undefined ? "" : column.names[value];
    if (column.moments) return moment(value, column.moments);
    return number(value) + (column.unit ? "\u2009" + column.unit : "");
  }

  /* -- where readings stand --------------------------------------------------------------- */
  function seen(panel, x, y) {
    const p = data.panels[panel], [a, b, c, d] = look[panel];
    return [p.left + ((x - p.left) / p.width - a) / (b - a) * p.width,
            p.top + ((y - p.top) / p.height - c) / (d - c) * p.height];
  }
  for (const one of data.series) {
    const p = data.panels[one.panel];
    one.at = one.x.values.map((x, i) => [
      p.left + place(p.scales[one.axes[0]], x) * p.width,
      p.top + (1 - place(p.scales[one.axes[1]], one.y.values[i])) * p.height]);
    one.order = one.at.map((_, i) => i).sort((i, j) => one.at[i][0] - one.at[j][0] || i - j);
  }
  /* markers of many readings are made from their numbers */
  for (const group of svg.querySelectorAll("[data-which]")) {
    const one = data.series.find((s) => `series/${s.id}` === group.dataset.of);
    const look = group.firstElementChild, left = new Set(one.left || []);
    one.at.forEach(([x, y], i) => {
      if (left.has(i) === (group.dataset.which === "left")) {
        make("use", { href: `#${look.dataset.shape}`, x: x.toFixed(3), y: y.toFixed(3) }, look);
      }
    });
  }
  for (const group of svg.querySelectorAll("[data-through]")) {
    const one = data.series.find((s) => `series/${s.id}/line` === group.dataset.of);
    const places = one.at.map(([x, y]) => `${x.toFixed(3)} ${y.toFixed(3)}`);
    group.firstElementChild.setAttribute("d", `M${places.join("L")}`);
  }
  function inside(panel, [x, y]) {
    const p = data.panels[panel];
    return x >= p.left - 0.01 && x <= p.left + p.width + 0.01 &&
           y >= p.top - 0.01 && y <= p.top + p.height + 0.01;
  }
  function nearest(x, y, reach) {
    let best = null, least = reach * reach;
    data.series.forEach((one, s) => {
      if (hidden.has(one.id)) return;
      one.at.forEach((mm, i) => {
        const [u, v] = seen(one.panel, ...mm), far = (u - x) ** 2 + (v - y) ** 2;
        if (far <= least && inside(one.panel, [u, v])) { least = far; best = { s, i }; }
      });
    });
    return best;
  }

  /* -- the reading that is pointed at --------------------------------------------------------- */
  function tell(found) {
    at = found;
    ring.setAttribute("visibility", found ? "visible" : "hidden");
    flag.hidden = !found;
    if (!found) { said.textContent = ""; return; }
    const one = data.series[found.s], i = found.i;
    const [x, y] = seen(one.panel, ...one.at[i]);
    ring.setAttribute("cx", x);
    ring.setAttribute("cy", y);
    const row = one.rows ? one.rows[i] : i + 1;
    const lines = [
      `${one.y.said}: ${words(one.y, one.y.values[i])}`,
      `${one.x.said}: ${words(one.x, one.x.values[i])}`,
      [data.series.length > 1 ? one.name : "", one.together || `row ${row}`,
       one.left && one.left.includes(i) ? "left out of the trend" : ""].filter(Boolean).join(", ")];
    flag.replaceChildren(...lines.map((text) => {
      const line = document.createElement("div");
      line.textContent = text;
      return line;
    }));
    said.textContent = lines.join("; ");
    const point = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM());
    const around = flag.parentElement.getBoundingClientRect();
    const wide = flag.offsetWidth, left = point.x - around.left;
    flag.style.left = `${Math.max(0, left + 14 + wide > around.width ? left - 14 - wide : left + 14)}px`;
    flag.style.top = `${Math.max(0, point.y - around.top - flag.offsetHeight - 8)}px`;
  }
  function step(series, along) {
    let open = data.series.map((one, s) => s).filter((s) => !hidden.has(data.series[s].id) &&
      data.series[s].at.length);
    const near = (s) => data.series[s].order.filter((i) =>
      inside(data.series[s].panel, seen(data.series[s].panel, ...data.series[s].at[i])));
    open = open.filter((s) => near(s).length);
    if (!open.length) return;
    if (!at || hidden.has(data.series[at.s].id)) {
      tell({ s: open[0], i: near(open[0])[0] });
      return;
    }
    if (along) {
      const order = near(at.s);
      const to = Math.max(0, Math.min(order.length - 1, order.indexOf(at.i) + along));
      tell({ s: at.s, i: order[to] });
    } else {
      const s = open[(open.indexOf(at.s) + series + open.length) % open.length];
      const x = data.series[at.s].at[at.i][0], apart = (i) => Math.abs(data.series[s].at[i][0] - x);
      tell({ s, i: near(s).reduce((best, i) => apart(i) < apart(best) ? i : best) });
    }
  }

  /* -- series shown and hidden ---------------------------------------------------------------- */
  const groups = [...svg.querySelectorAll("[data-of]")];
  function isOf(group, id) {
    const [kind, name] = group.dataset.of.split("/");
    return (kind === "series" && name === id) || (kind === "trend" && data.trends[name] === id);
  }
  function toggle(id) {
    if (hidden.has(id)) hidden.delete(id); else hidden.add(id);
    for (const group of groups) {
      if (isOf(group, id)) group.classList.toggle("off", hidden.has(id));
    }
    for (const button of document.querySelectorAll("#series button")) {
      if (button.dataset.series === id) button.setAttribute("aria-pressed", String(!hidden.has(id)));
    }
    if (at && data.series[at.s].id === id) tell(null);
  }
  const list = document.getElementById("series");
  if (data.series.length > 1) {
    for (const one of data.series) {
      const button = document.createElement("button");
      const swatch = document.createElement("span");
      swatch.className = `swatch f${one.colour}`;
      button.append(swatch, one.name);
      button.dataset.series = one.id;
      button.setAttribute("aria-pressed", "true");
      button.addEventListener("click", () => toggle(one.id));
      list.append(button);
    }
    list.hidden = false;
  }
  for (const name of data.names) {
    const area = make("rect", { x: name.x, y: name.y, width: name.width, height: name.height,
                                class: "name" }, over);
    area.addEventListener("click", () => toggle(name.series));
  }

  /* -- a closer look -------------------------------------------------------------------------- */
  const moving = [];
  for (const [index, panel] of [...svg.querySelectorAll("[data-panel]")].entries()) {
    const p = data.panels[index];
    const clip = make("clipPath", { id: `c${index}` }, svg.querySelector("defs"));
    make("rect", { x: p.left, y: p.top, width: p.width, height: p.height }, clip);
    const kept = { parts: [], axes: [], labels: [], under: [] };
    const titled = panel.querySelector('[data-of="y-title"] > g');
    if (titled) {
      kept.title = { node: titled, place: titled.getAttribute("transform"),
                     size: Number(titled.querySelector("text").getAttribute("font-size")) };
    }
    for (const group of panel.querySelectorAll("[data-of]")) {
      const of = group.dataset.of;
      if (/^[xy]2?-(axis|grid)$/.test(of)) { kept.axes.push(group); continue; }
      if (!/^(series|trend|curve|guide|range|read|note|pin)/.test(of)) continue;
      if (/label|ground$/.test(of) && of.startsWith("trend")) {
        kept.under.push({ group, parent: group.parentNode, next: group.nextSibling });
        continue;
      }
      if (group.querySelector("text")) { kept.labels.push(group); continue; }
      if (/^(note|pin)/.test(of)) { kept.labels.push(group); continue; }
      const parts = [...group.querySelectorAll("path, use, image")].map((node) => {
        if (node.tagName === "path") return { node, d: node.getAttribute("d") };
        const told = ["x", "y", "width", "height"].map((n) => Number(node.getAttribute(n)));
        return { node, told };
      });
      kept.parts.push({ group, parts });
    }
    kept.readings = panel.querySelector('[data-of^="series"]');
    moving.push(kept);
  }
  const ticked = make("g", { class: "ticks" }, svg), ruled = make("g", {});
  svg.querySelector("[data-panel]").before(ruled);
  svg.append(over);
  function steps(least, greatest, count) {
    const rough = (greatest - least) / count, power = 10 ** Math.floor(Math.log10(rough));
    const size = [1, 2, 5, 10].find((m) => m * power >= rough) * power;
    const found = [];
    for (let k = Math.ceil(least / size - 1e-9); k * size <= greatest + size * 1e-9; k++) found.push(k * size);
    return [found, Math.max(0, -Math.floor(Math.log10(size) + 1e-9))];
  }
  const SPANS = [1, 5, 15, 30, 60, 300, 900, 1800, 3600, 10800, 21600, 43200, 86400, 172800, 604800,
                 1209600, 2629746, 7889238, 31556952];
  function ticks(scale, least, greatest) {
    if (scale.names) {
      return scale.names.map((text, i) => [i, text]).filter(([i]) => i >= least && i <= greatest);
    }
    if (scale.moments) {
      const size = SPANS.find((s) => (greatest - least) / s <= 5) || SPANS[SPANS.length - 1];
      const length = size >= 86400 ? 10 : size >= 60 ? 16 : 19, found = [];
      for (let t = Math.ceil(least / size) * size; t <= greatest; t += size) found.push([t, moment(t, length)]);
      return found;
    }
    if (scale.kind === "log" && greatest / least > 8) {
      const found = [];
      for (let e = Math.ceil(Math.log10(least) - 1e-9); 10 ** e <= greatest * 1.000001; e++) {
        found.push([10 ** e, number(Number(`1e${e}`))]);
      }
      return found;
    }
    const [values, digits] = steps(least, greatest, 5);
    const large = Math.max(Math.abs(least), Math.abs(greatest)) >= 1e6 || digits > 6;
    return values.map((v) => [v, large ? number(Number(v.toPrecision(8))) : number(v, digits)]);
  }
  function drawTicks(index) {
    const p = data.panels[index], [a, b, c, d] = look[index];
    for (const axis of Object.keys(p.scales)) {
      const level = axis[0] === "x", scale = p.scales[axis];
      const mine = moving[index].axes.filter((g) => g.dataset.of === `${axis}-axis`);
      const line = mine.find((g) => g.querySelector("path")), label = mine.find((g) => g.querySelector("text"));
      if (!line) continue;
      const path = line.querySelector("path");
      const subs = path.getAttribute("d").split("M").filter(Boolean).map((s) => s.split(/[L ]/).map(Number));
      const ends = level ? [a, b] : [1 - d, 1 - c];
      const values = ends.map((part) => valueAt(scale, part)).sort((u, v) => u - v);
      const [u, v] = subs[0];
      let drawn = level ? `M${p.left} ${v}H${p.left + p.width}` : `M${u} ${p.top}V${p.top + p.height}`;
      let last = -1e9, widest = -1e9;
      for (const [value, text] of ticks(scale, ...values)) {
        const part = place(scale, value);
        const mm = level ? p.left + (part - a) / (b - a) * p.width
                         : p.top + ((1 - part) - c) / (d - c) * p.height;
        if (subs[1]) {
          drawn += level ? `M${mm} ${subs[1][1]}L${mm} ${subs[1][3]}` : `M${subs[1][0]} ${mm}L${subs[1][2]} ${mm}`;
        }
        if (!level && p.grid) make("path", { class: p.grid, "stroke-width": 0.1,
          d: `M${p.left} ${mm}H${p.left + p.width}` }, ruled);
        if (!label) continue;
        const old = label.querySelector("text"), holder = label.firstElementChild;
        const [x, y] = holder.getAttribute("transform").match(/-?[\d.]+/g).map(Number);
        const size = Number(old.getAttribute("font-size"));
        const made = make("text", { class: holder.getAttribute("class"), "font-size": size,
          x: level ? mm : x, y: level ? y : mm + size * 0.33,
          "text-anchor": level ? "middle" : axis === "y" ? "end" : "start" }, ticked);
        made.textContent = text;
        if (axis === "y") widest = Math.max(widest, made.getComputedTextLength() - x);
        if (level) {
          const half = made.getComputedTextLength() / 2;
          if (mm - half < last + 1) made.remove(); else last = mm + half;
        }
      }
      make("path", { class: path.getAttribute("class"), "stroke-width": path.getAttribute("stroke-width"),
                     d: drawn }, ticked);
      if (axis === "y") makeRoom(moving[index], widest);
    }
  }
  /* the title of y steps aside for labels that are wider than those before */
  function makeRoom({ title }, widest) {
    if (!title) return;
    const [x] = title.place.match(/-?[\d.]+/).map(Number);
    const most = -widest - 0.8;
    if (x <= most) return;
    title.node.setAttribute("transform", title.place.replace(/-?[\d.]+/, Math.max(most, title.size).toFixed(3)));
  }
  function show() {
    const closer = look.some((one) => one.join() !== "0,1,0,1");
    ticked.replaceChildren();
    ruled.replaceChildren();
    moving.forEach(({ parts, axes, labels, title, under, readings }, index) => {
      if (title) title.node.setAttribute("transform", title.place);
      const near = look[index].join() !== "0,1,0,1";
      for (const { group, parts: inner } of parts) {
        if (near) group.setAttribute("clip-path", `url(#c${index})`); else group.removeAttribute("clip-path");
        for (const { node, d, told } of inner) {
          if (d !== undefined) {
            node.setAttribute("d", !near ? d : d.replace(/(-?[\d.]+) (-?[\d.]+)/g, (_, x, y) =>
              seen(index, Number(x), Number(y)).map((v) => v.toFixed(3)).join(" ")));
          } else {
            const [x, y] = seen(index, told[0], told[1]);
            node.setAttribute("x", near ? x.toFixed(3) : told[0]);
            node.setAttribute("y", near ? y.toFixed(3) : told[1]);
            if (node.tagName === "image") {
              const [u, v] = seen(index, told[0] + told[2], told[1] + told[3]);
              node.setAttribute("width", near ? u - x : told[2]);
              node.setAttribute("height", near ? v - y : told[3]);
            }
          }
        }
      }
      for (const group of [...axes, ...labels]) group.classList.toggle("off", near);
      /* readings have moved to where labels stand, and are never hidden by them */
      for (const { group, parent, next } of [...under].reverse()) {
        if (near && readings) readings.before(group); else parent.insertBefore(group, next);
      }
      if (near) drawTicks(index);
    });
    back.hidden = !closer;
    svg.classList.toggle("closer", closer);
    if (at) {
      const one = data.series[at.s];
      tell(inside(one.panel, seen(one.panel, ...one.at[at.i])) ? at : null);
    }
  }
  const SMALLEST = 1e-4;
  function lookAt(index, wanted, keep) {
    let [a, b, c, d] = wanted;
    if (b - a < SMALLEST || d - c < SMALLEST) return;
    const fit = (u, v) => v - u >= 1 ? [0, 1] : u < 0 ? [0, v - u] : v > 1 ? [1 - (v - u), 1] : [u, v];
    [a, b] = fit(a, b);
    [c, d] = fit(c, d);
    if (keep) looks.push(look.map((one) => [...one]));
    look = look.map((one, i) => i === index ? [a, b, c, d]
      : [...(data.share.includes("x") ? [a, b] : one.slice(0, 2)),
         ...(data.share.includes("y") ? [c, d] : one.slice(2))]);
    show();
  }
  function goBack() {
    if (!looks.length) return;
    look = looks.pop();
    show();
  }
  function mm(event) {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [point.x, point.y];
  }
  const panelAt = (point) => data.panels.findIndex((_, i) => inside(i, point));
  function part(index, [x, y]) {
    const p = data.panels[index], [a, b, c, d] = look[index];
    return [a + (x - p.left) / p.width * (b - a), c + (y - p.top) / p.height * (d - c)];
  }
  function nearer(index, point, times, from, keep) {
    const [u, v] = part(index, point), [a, b, c, d] = from || look[index];
    lookAt(index, [u - (u - a) / times, u + (b - u) / times, v - (v - c) / times, v + (d - v) / times], keep);
  }
  let wheeled = -1e9;
  svg.addEventListener("wheel", (event) => {
    const point = mm(event), index = panelAt(point);
    if (index < 0) return;
    event.preventDefault();
    const keep = event.timeStamp - wheeled > 700;
    wheeled = event.timeStamp;
    nearer(index, point, event.deltaY < 0 ? 1.25 : 0.8, null, keep);
  }, { passive: false });

  const fingers = new Map();
  let held = null;
  svg.addEventListener("pointerdown", (event) => {
    fingers.set(event.pointerId, mm(event));
    const point = mm(event), index = panelAt(point);
    if (index < 0 || event.button || event.target.classList.contains("name")) { held = null; return; }
    if (fingers.size === 2) {
      const [one, two] = [...fingers.values()];
      held = { index, from: look.map((l) => [...l]), apart: Math.hypot(one[0] - two[0], one[1] - two[1]) };
      looks.push(held.from);
    } else if (event.pointerType === "mouse" || svg.classList.contains("closer")) {
      held = { index, point, touch: event.pointerType !== "mouse", from: [...look[index]] };
    }
    if (held) svg.setPointerCapture(event.pointerId);
  });
  svg.addEventListener("pointermove", (event) => {
    const point = mm(event);
    if (fingers.has(event.pointerId)) fingers.set(event.pointerId, point);
    if (!held) { tell(nearest(...point, 5)); return; }
    if (held.apart) {
      if (fingers.size < 2) return;
      const [one, two] = [...fingers.values()];
      const times = Math.hypot(one[0] - two[0], one[1] - two[1]) / held.apart;
      look = held.from.map((l) => [...l]);
      nearer(held.index, [(one[0] + two[0]) / 2, (one[1] + two[1]) / 2], Math.max(times, 0.05), null, false);
      return;
    }
    const p = data.panels[held.index];
    if (held.touch || event.shiftKey) {
      const [a, b, c, d] = held.from;
      const u = (point[0] - held.point[0]) / p.width * (b - a), v = (point[1] - held.point[1]) / p.height * (d - c);
      lookAt(held.index, [a - u, b - u, c - v, d - v], !held.moved);
      held.moved = true;
      return;
    }
    const x = Math.min(Math.max(point[0], p.left), p.left + p.width);
    const y = Math.min(Math.max(point[1], p.top), p.top + p.height);
    held.corner = [x, y];
    box.setAttribute("visibility", "visible");
    box.setAttribute("x", Math.min(x, held.point[0]));
    box.setAttribute("y", Math.min(y, held.point[1]));
    box.setAttribute("width", Math.abs(x - held.point[0]));
    box.setAttribute("height", Math.abs(y - held.point[1]));
  });
  function letGo(event) {
    fingers.delete(event.pointerId);
    const was = held;
    if (!fingers.size) held = null;
    box.setAttribute("visibility", "hidden");
    if (!was || was.apart || was.moved || event.type !== "pointerup") return;
    if (was.corner && Math.hypot(was.corner[0] - was.point[0], was.corner[1] - was.point[1]) > 2) {
      const one = part(was.index, was.point), two = part(was.index, was.corner);
      lookAt(was.index, [Math.min(one[0], two[0]), Math.max(one[0], two[0]),
                         Math.min(one[1], two[1]), Math.max(one[1], two[1])], true);
    } else {
      tell(nearest(...mm(event), 5));
    }
  }
  svg.addEventListener("pointerup", letGo);
  svg.addEventListener("pointercancel", letGo);
  svg.addEventListener("pointerleave", () => { if (!held) tell(null); });
  back.addEventListener("click", goBack);

  const figure = document.querySelector("figure");
  figure.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const p = at ? data.series[at.s].panel : 0;
    const middle = at ? seen(p, ...data.series[at.s].at[at.i])
      : [data.panels[p].left + data.panels[p].width / 2, data.panels[p].top + data.panels[p].height / 2];
    const acts = {
      ArrowLeft: () => step(0, -1), ArrowRight: () => step(0, 1),
      ArrowUp: () => step(-1, 0), ArrowDown: () => step(1, 0),
      Home: () => step(0, -1e9), End: () => step(0, 1e9),
      "+": () => nearer(p, middle, 1.5, null, true), "-": () => nearer(p, middle, 1 / 1.5, null, true),
      Escape: () => { if (looks.length) goBack(); else tell(null); },
    };
    if (!acts[event.key]) return;
    event.preventDefault();
    acts[event.key]();
  });

  /* -- the numbers --------------------------------------------------------------------------- */
  const details = document.getElementById("numbers");
  details.addEventListener("toggle", () => {
    if (!details.open || details.querySelector("table")) return;
    for (const one of data.series) {
      const table = document.createElement("table");
      const caption = table.createCaption();
      caption.textContent = one.of ? `${one.name}: ${one.at.length} of ${one.of} readings` : one.name;
      const heads = table.createTHead().insertRow();
      const titled = [one.together ? "" : "row", ...[one.x, one.y].map((c) => c.said + (c.unit ? ` / ${c.unit}` : ""))];
      for (const text of [...titled, ...(one.left ? ["left out"] : [])]) {
        const th = document.createElement("th");
        th.scope = "col";
        th.textContent = text;
        heads.append(th);
      }
      const body = table.createTBody();
      one.x.values.forEach((x, i) => {
        const row = body.insertRow();
        const cell = (column, value) => column.names || column.moments ? words(column, value) : number(value);
        const cells = [one.together ? "" : one.rows ? one.rows[i] : i + 1, cell(one.x, x), cell(one.y, one.y.values[i])];
        if (one.left) cells.push(one.left.includes(i) ? "left out" : "");
        for (const text of cells) row.insertCell().textContent = text;
      });
      details.append(table);
    }
  });
  document.getElementById("copy").addEventListener("click", () => {
    details.open = true;
    details.dispatchEvent(new Event("toggle"));
    const lines = [...details.querySelectorAll("table")].map((table) =>
      [table.caption.textContent, ...[...table.rows].map((row) =>
        [...row.cells].map((c) => c.textContent.replace("−", "-")).join("\t"))].join("\n"));
    const text = lines.join("\n\n");
    const done = () => { said.textContent = "The numbers were copied."; };
    const by_hand = () => {
      const area = document.createElement("textarea");
      area.value = text;
      document.body.append(area);
      area.select();
      document.execCommand("copy");
      area.remove();
      done();
    };
    if (navigator.clipboard) navigator.clipboard.writeText(text).then(done, by_hand); else by_hand();
  });
  document.documentElement.classList.add("ready");
})();
