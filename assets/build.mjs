// Builds everything under src/arcstack/web/static from the locked packages.
import { execFileSync } from "node:child_process";
import { copyFileSync, mkdirSync, writeFileSync } from "node:fs";
import { build } from "esbuild";

const out = "src/arcstack/web/static";
mkdirSync(`${out}/fonts`, { recursive: true });
for (const weight of ["400", "700"]) {
  copyFileSync(`node_modules/@fontsource/b612/files/b612-latin-${weight}-normal.woff2`, `${out}/fonts/b612-${weight}.woff2`);
}
copyFileSync("node_modules/htmx.org/dist/htmx.min.js", `${out}/htmx.min.js`);
writeFileSync(
  `${out}/mark.svg`,
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><path d="M6 27V15a10 10 0 0 1 20 0v12" fill="none" stroke="#0d5c66" stroke-width="4"/><path d="M16 9v18" stroke="#1d2329" stroke-width="2"/></svg>\n',
);
// the terms of everything that is shipped, beside it
mkdirSync(`${out}/licenses`, { recursive: true });
const terms = {
  "htmx.txt": "htmx.org/LICENSE",
  "echarts.txt": "echarts/LICENSE",
  "echarts-notice.txt": "echarts/NOTICE",
  "echarts-d3.txt": "echarts/licenses/LICENSE-d3",
  "zrender.txt": "zrender/LICENSE",
  "tslib.txt": "tslib/LICENSE.txt",
  "tailwindcss.txt": "tailwindcss/LICENSE",
  "b612.txt": "@fontsource/b612/LICENSE",
};
for (const [name, from] of Object.entries(terms)) copyFileSync(`node_modules/${from}`, `${out}/licenses/${name}`);
const shared = { bundle: true, minify: true, target: "es2022", legalComments: "none", logLevel: "warning" };
await build({ ...shared, entryPoints: ["assets/app.js"], outfile: `${out}/app.js`, format: "iife" });
await build({ ...shared, entryPoints: ["assets/chart.js"], outfile: `${out}/chart.js`, format: "iife" });
await build({ ...shared, entryPoints: ["assets/control.js"], outfile: `${out}/control.js`, format: "iife" });
execFileSync("node_modules/.bin/tailwindcss", ["-i", "assets/app.css", "-o", `${out}/app.css`, "--minify"], { stdio: ["ignore", "ignore", "inherit"] });
