/** What a browser sees without the key of this start: a plain page that says what to do. */
export const closedDoorPage = `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Tavrox</title>
<style>
  body { margin: 18vh auto; max-width: 34rem; padding: 0 1.5rem; background: #141516; color: #ece9e3; font: 17px/1.6 sans-serif }
  h1 { font-size: 1.35rem }
  p { color: #aaa8a3 }
  input, button { font: inherit; padding: .45rem .7rem; border-radius: 4px; border: 1px solid #34373b }
  input { background: #1b1c1e; color: inherit; width: 22rem; max-width: 100% }
  button { background: #ece9e3; color: #141516; cursor: pointer }
</style>
<h1>This page needs the key of this start</h1>
<p>Tavrox writes to disks, so it lets in only whoever can see its terminal. Open the whole address that it printed
when it started, or paste the key from the end of that address.</p>
<form action="/" method="get">
  <label>Key <input name="key" autocomplete="off" autofocus></label>
  <button>Open</button>
</form>
</html>
`;
