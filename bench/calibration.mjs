// Draws how right the answers were against what they were given, from the JSON of several `trial`s: node bench/calibration.mjs OUT.svg TRIAL.json…
import { readFileSync, writeFileSync } from 'node:fs';

const [out, ...files] = process.argv.slice(2);
const bands = new Map();
for (const file of files) {
  for (const band of JSON.parse(readFileSync(file, 'utf8')).calibration) {
    const sum = bands.get(band.from) ?? { given: 0, answers: 0, right: 0 };
    sum.given += band.given * band.answers;
    sum.answers += band.answers;
    sum.right += band.right;
    bands.set(band.from, sum);
  }
}

const [size, edge] = [420, 56];
const at = (share) => edge + share * (size - edge - 30);
const y = (share) => size - at(share);
const dots = [...bands.values()].map((b) => ({ x: b.given / b.answers, y: b.right / b.answers, n: b.answers }));
const ticks = [0, 0.25, 0.5, 0.75, 1];
const text = (x, yy, words, anchor = 'middle') => `<text x="${x}" y="${yy}" text-anchor="${anchor}">${words}</text>`;
writeFileSync(
  out,
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${size} ${size}" width="${size}" height="${size}" font-family="sans-serif" font-size="12" fill="#2b2a28">
<title>Share of answers that were right, against the probability they were given</title>
<rect width="${size}" height="${size}" fill="#faf6ea"/>
${ticks.map((t) => `<path d="M${at(t)} ${y(0)}V${y(1)}M${at(0)} ${y(t)}H${at(1)}" stroke="#d8cfb8"/>${text(at(t), size - 36, `${t * 100} %`)}${text(edge - 8, y(t) + 4, `${t * 100} %`, 'end')}`).join('\n')}
<path d="M${at(0)} ${y(0)}L${at(1)} ${y(1)}" stroke="#2b2a28" stroke-dasharray="4 4"/>
${dots.map((d) => `<circle cx="${at(d.x).toFixed(1)}" cy="${y(d.y).toFixed(1)}" r="${Math.min(12, 3 + Math.log10(d.n) * 2).toFixed(1)}" fill="#97451a" fill-opacity="0.8"><title>${d.n} answers given ${(d.x * 100).toFixed(0)} %, ${(d.y * 100).toFixed(1)} % right</title></circle>`).join('\n')}
${text(size / 2, size - 14, 'given')}
<text x="14" y="${size / 2}" text-anchor="middle" transform="rotate(-90 14 ${size / 2})">right</text>
</svg>
`,
);
for (const d of dots.sort((a, b) => a.x - b.x)) console.log(`| ${(d.x * 100).toFixed(1)} % | ${d.n} | ${(d.y * 100).toFixed(1)} % |`);
