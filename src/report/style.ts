/**
 * The look of the report: light and dark by the reader's own setting, and black on white on paper.
 */
export const REPORT_STYLE = `
:root { color-scheme: light dark; --ink: #1d2330; --dim: #5b6475; --paper: #fff; --soft: #f3f4f7; --line: #d9dce3; --own: #2f6f9f; --own-ink: #fff; --starter: #9dbdd3; --lack: #b3431f; --lack-soft: #fbe9e2; --warn: #8a6100; --warn-soft: #fbf2d9; --info-soft: #e6eef5; --focus: #1b62c4; }
@media (prefers-color-scheme: dark) { :root { --ink: #e6e8ee; --dim: #a0a8b8; --paper: #14171e; --soft: #1d222c; --line: #343b49; --own: #5ea3d3; --own-ink: #0d1117; --starter: #33566e; --lack: #ff9b78; --lack-soft: #3a211a; --warn: #ecc873; --warn-soft: #34290f; --info-soft: #1c2a38; --focus: #7db4ff; } }
* { box-sizing: border-box; }
body { margin: 0; color: var(--ink); background: var(--paper); font: 15px/1.45 system-ui, 'Noto Sans', 'DejaVu Sans', sans-serif; }
header, main { max-width: 1500px; margin: 0 auto; padding: 0 20px; }
h1 { font-size: 1.5rem; margin: 20px 0 4px; } h2 { font-size: 1.15rem; margin: 28px 0 8px; } header p, .hint { color: var(--dim); margin: 0 0 8px; }
code, kbd { font: .86em ui-monospace, 'DejaVu Sans Mono', monospace; color: var(--dim); } kbd { border: 1px solid var(--line); border-radius: 3px; padding: 0 5px; }
:focus-visible { outline: 3px solid var(--focus); outline-offset: 2px; }
.skip { position: absolute; left: -999px; } .skip:focus { left: 8px; top: 8px; background: var(--paper); padding: 8px; z-index: 9; }
.unseen { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
.scroll { overflow-x: auto; max-width: 100%; border: 1px solid var(--line); border-radius: 6px; }
table { border-collapse: collapse; width: 100%; }
th { text-align: start; font-weight: 600; }
.scroll:has(> .heat) { width: fit-content; } .heat { width: auto; } .heat th, .heat td { border-bottom: 1px solid var(--line); padding: 0; }
.heat th { padding: 6px 12px; background: var(--soft); white-space: nowrap; } .heat tbody th { position: sticky; left: 0; } .heat abbr { text-decoration: none; }
.heat tbody tr:first-child th, .heat tbody tr:first-child td { border-bottom: 2px solid var(--dim); }
.heat button { all: unset; display: block; min-width: 92px; padding: 6px 10px; cursor: pointer; box-sizing: border-box; } .heat button:focus-visible { outline: 3px solid var(--focus); outline-offset: -3px; } .heat button:hover { background: var(--soft); }
.heat b { font-variant-numeric: tabular-nums; } .heat small { color: var(--dim); font-weight: 400; } .heat .lacks { background: var(--lack-soft); } .heat .lack { display: block; color: var(--lack); font-size: .78em; }
.bar { display: flex; height: 9px; margin-top: 3px; border: 1px solid var(--dim); } .bar i { height: 100%; }
i.w { background: var(--own); } i.h { background: repeating-linear-gradient(90deg, var(--own) 0 3px, var(--paper) 3px 5px); } i.s { background: repeating-linear-gradient(135deg, var(--starter) 0 3px, var(--paper) 3px 5px); } i.f { background: repeating-linear-gradient(0deg, var(--lack) 0 1px, var(--paper) 1px 4px); } i.m { background: var(--paper); } i.d { background: radial-gradient(circle, var(--starter) 0 1px, transparent 1.5px) 0 0 / 5px 5px, var(--paper); }
.scroll:has(> .time) { width: fit-content; } .time { width: auto; } .time th, .time td { padding: 6px 12px; border-bottom: 1px solid var(--line); white-space: nowrap; font-variant-numeric: tabular-nums; } .time small { color: var(--dim); } .time td:nth-child(2) { text-align: end; }
.moments { display: grid; grid-auto-flow: column; grid-auto-columns: 14px; gap: 2px; height: 44px; margin: 0; padding: 0; list-style: none; } .moments li { display: flex; flex-direction: column-reverse; border: 1px solid var(--dim); }
.legend { display: flex; flex-wrap: wrap; gap: 6px 18px; color: var(--dim); margin: 0 0 8px; } .legend i { display: inline-block; width: 22px; height: 10px; border: 1px solid var(--dim); vertical-align: -1px; }
.controls { display: flex; flex-wrap: wrap; gap: 10px 16px; align-items: end; margin: 8px 0; } .controls label { display: flex; flex-direction: column; font-size: .85em; color: var(--dim); gap: 2px; } .controls .wide { flex: 1 1 260px; }
input[type=search], select, nav button { font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--dim); border-radius: 5px; padding: 6px 8px; min-height: 36px; } nav button:disabled { opacity: .45; }
fieldset { border: 0; margin: 6px 0 0; padding: 0; display: flex; flex-wrap: wrap; gap: 4px 16px; } .languages { margin-bottom: 6px; } summary { cursor: pointer; }
#status { color: var(--dim); margin: 6px 0; } nav { margin: 12px 0; display: flex; gap: 12px; align-items: center; }
.texts { table-layout: fixed; min-width: 760px; } .texts th, .texts td { vertical-align: top; padding: 9px 12px; border-bottom: 1px solid var(--line); overflow-wrap: anywhere; } .texts thead th { background: var(--soft); position: sticky; top: 0; }
.texts tbody th { font-weight: 400; } .texts tbody th span { display: block; } .form { color: var(--dim); font-size: .85em; } .path { font-weight: 600; }
.texts td .text { white-space: pre-wrap; } .texts td[dir=rtl] { text-align: right; }
.mark { display: inline-block; margin: 0 6px; font-size: .74em; border: 1px solid var(--line); border-radius: 9px; padding: 0 7px; color: var(--dim); white-space: nowrap; } .mark.f, .mark.m { color: var(--lack); border-color: var(--lack); }
.finding { margin: 6px 0 0; padding: 5px 9px; font-size: .84em; border-inline-start: 4px solid var(--warn); background: var(--warn-soft); text-align: left; } .finding.error { border-color: var(--lack); background: var(--lack-soft); } .finding.info { border-color: var(--own); background: var(--info-soft); }
details:not(.languages) { border-bottom: 1px solid var(--line); padding: 6px 0; } details ul { margin: 6px 0; padding-inline-start: 22px; }
.severity { display: inline-block; min-width: 62px; } .severity.error { color: var(--lack); } .severity.warning { color: var(--warn); } .count { color: var(--dim); }
@media (max-width: 640px) { header, main { padding: 0 12px; } .texts { min-width: 0; } .texts, .texts tbody, .texts tr, .texts th, .texts td { display: block; } .texts thead { display: none; } .texts td, .texts tbody th { border: 0; padding: 5px 12px; } .texts tr { border-bottom: 1px solid var(--line); padding: 6px 0; } .texts td::before { content: attr(lang); display: block; direction: ltr; text-align: left; font: .74em ui-monospace, monospace; color: var(--dim); } .controls label { flex: 1 1 45%; } .controls .wide { flex-basis: 100%; } }
@media print { :root { --ink: #000; --dim: #444; --paper: #fff; --soft: #eee; --line: #aaa; --lack-soft: #fff; --warn-soft: #fff; --info-soft: #fff; --own: #333; --starter: #999; --lack: #000; --warn: #000; } .controls, nav, .hint, .languages, .skip { display: none; } .scroll { overflow: visible; border: 0; } tr { break-inside: avoid; } .texts { min-width: 0; } .texts thead th { position: static; } i.w, i.h, i.s, i.f { print-color-adjust: exact; } }
`;
