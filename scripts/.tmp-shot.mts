import { chromium } from "@playwright/test";

const [, , url, out, ...steps] = process.argv;
const b = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
  ],
});
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on("console", (m) => {
  if (m.type() === "error" || m.type() === "warning") console.log(m.type(), m.text().slice(0, 300));
});
p.on("pageerror", (e) => console.log("pageerror", e.message.slice(0, 400)));
await p.goto(url.startsWith("http") ? url : "http://127.0.0.1:4310" + url);
for (const s of steps) {
  const [k, ...r] = s.split(":");
  const a = r.join(":");
  if (k === "wait") await p.waitForTimeout(Number(a));
  else if (k === "click") await p.click(a);
  else if (k === "key") await p.keyboard.press(a);
  else if (k === "type") await p.keyboard.type(a);
  else if (k === "move") {
    const [x, y] = a.split(",").map(Number);
    await p.mouse.move(x, y);
  } else if (k === "clickat") {
    const [x, y] = a.split(",").map(Number);
    await p.mouse.click(x, y);
  } else if (k === "eval") console.log(await p.evaluate(a));
  else if (k === "waitfor") await p.waitForSelector(a, { timeout: 60000 });
}
await p.screenshot({ path: out });
await b.close();
