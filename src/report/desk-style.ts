/** The look of a translator's page: light and dark, wide and narrow, to both sides. */
export const DESK_STYLE = `
:root { color-scheme: light dark; --ink: #1d2330; --dim: #5b6475; --paper: #fff; --soft: #f3f4f7; --line: #d0d4dd; --chip: #e2ecf5; --chip-ink: #17456b; --own: #2f6f9f; --alarm: #a33a17; --alarm-soft: #fbe9e2; --good: #2d7247; --open: #8a6100; --focus: #1b62c4; }
@media (prefers-color-scheme: dark) { :root { --ink: #e6e8ee; --dim: #a0a8b8; --paper: #14171e; --soft: #1d222c; --line: #3a4252; --chip: #213b51; --chip-ink: #bfe0fa; --own: #5ea3d3; --alarm: #ff9b78; --alarm-soft: #3a211a; --good: #7fce9d; --open: #ecc873; --focus: #7db4ff; } }
* { box-sizing: border-box; } [hidden] { display: none !important; }
html, body { height: 100%; }
body { margin: 0; display: flex; flex-direction: column; color: var(--ink); background: var(--paper); font: 16px/1.5 system-ui, 'Noto Sans', 'DejaVu Sans', sans-serif; }
:focus-visible { outline: 3px solid var(--focus); outline-offset: 1px; }
.unseen { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
header { display: flex; flex-wrap: wrap; gap: 4px 24px; align-items: center; padding: 10px 16px; border-bottom: 1px solid var(--line); }
header p, h1, h2 { margin: 0; } h1 { font-size: 1.2rem; } h2 { font-size: .85rem; color: var(--dim); font-weight: 600; margin-top: 16px; }
header p:last-child { flex-basis: 100%; color: var(--dim); font-size: .85rem; }
progress { width: 120px; accent-color: var(--own); vertical-align: middle; }
button, select, input, textarea, .file { font: inherit; color: inherit; background: var(--paper); border: 1px solid var(--dim); border-radius: 6px; padding: 5px 10px; min-height: 36px; }
button, .file { cursor: pointer; } #save { background: var(--own); border-color: var(--own); color: var(--paper); font-weight: 600; }
.file { display: inline-block; } .file input { position: absolute; width: 1px; height: 1px; opacity: 0; } .file:focus-within { outline: 3px solid var(--focus); }
.does { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; }
main { flex: 1; min-height: 0; display: grid; grid-template-columns: minmax(280px, 38%) 1fr; }
nav { display: flex; flex-direction: column; min-height: 0; border-inline-end: 1px solid var(--line); }
.find { display: flex; gap: 8px; margin: 10px 12px; } .find label { display: flex; flex-direction: column; font-size: .8rem; color: var(--dim); min-width: 0; } .find label:first-child { flex: 1; } .find input, .find select { color: var(--ink); font-size: 1rem; width: 100%; }
#list { flex: 1; min-height: 120px; overflow-y: auto; position: relative; border-top: 1px solid var(--line); } .space { position: relative; }
.text { position: absolute; inset-inline: 0; height: 58px; padding: 5px 12px; border-bottom: 1px solid var(--line); display: grid; grid-template-columns: 30px 1fr; cursor: pointer; }
.text .source, .text .target { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } .text .target { grid-column: 2; color: var(--dim); font-size: .92rem; } .text .hint { font-style: italic; }
.text[aria-selected=true] { background: var(--chip); box-shadow: inset 4px 0 0 var(--own); } [dir=rtl] .text[aria-selected=true] { box-shadow: inset -4px 0 0 var(--own); } #list:focus-visible .text[aria-selected=true] { outline: 3px solid var(--focus); outline-offset: -3px; }
.mark { grid-row: 1 / 3; font-weight: 700; white-space: nowrap; } .mark::before { content: '○'; color: var(--alarm); } .stale .mark::before { content: '≠'; color: var(--open); } .draft .mark::before { content: '◐'; color: var(--open); } .ready .mark::before { content: '✓'; color: var(--good); } .warned .mark::after { content: ' !'; color: var(--alarm); }
.keys, #nothing { margin: 0; padding: 6px 12px; font-size: .8rem; color: var(--dim); border-top: 1px solid var(--line); }
#panel { overflow-y: auto; padding: 8px 20px 24px; }
.where { color: var(--dim); font: .8rem ui-monospace, 'DejaVu Sans Mono', monospace; margin: 4px 0 0; text-align: start; overflow-wrap: anywhere; }
.original { font-size: 1.15rem; margin: 4px 0; white-space: pre-wrap; overflow-wrap: anywhere; } .original code { font-size: .95rem; } .before { margin: 4px 0; } ins { background: color-mix(in srgb, var(--good) 25%, transparent); text-decoration: none; font-weight: 600; } del { color: var(--alarm); }
.note { border-inline-start: 4px solid var(--own); padding-inline-start: 10px; margin: 6px 0; }
.chip { display: inline-block; background: var(--chip); color: var(--chip-ink); border-radius: 5px; padding: 0 6px; font-size: .88em; line-height: 1.5; user-select: all; } .choice { border: 1px dashed var(--chip-ink); }
.editor { border: 1px solid var(--dim); border-radius: 6px; padding: 8px 10px; min-height: 44px; font-size: 1.15rem; white-space: pre-wrap; overflow-wrap: anywhere; background: var(--paper); }
.choices { margin: 8px 0 0; padding-inline-start: 14px; border-inline-start: 3px solid var(--chip); } .row { display: grid; grid-template-columns: 150px 1fr; gap: 10px; margin-top: 6px; align-items: start; } .caption { color: var(--dim); font-size: .85rem; padding-top: 10px; } .row .editor { font-size: 1rem; } .original .choices { font-size: 1rem; } .original .caption { padding-top: 2px; }
#offers { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; margin: 8px 0; font-size: .85rem; color: var(--dim); } #offers button { padding: 2px 6px; min-height: 32px; } #offers .chip { user-select: none; } #offers details { flex-basis: 100%; } #offers details button { margin: 4px 4px 0 0; }
#flaws { background: var(--alarm-soft); border-inline-start: 4px solid var(--alarm); margin: 10px 0; padding: 8px 14px; list-style: none; } #flaws small { display: block; color: var(--dim); text-align: left; } .alarm { color: var(--alarm); font-weight: 600; }
#reads, .terms { margin: 4px 0; padding: 0; list-style: none; } #reads li { padding: 4px 0; border-bottom: 1px solid var(--line); } #reads span { display: block; } small { color: var(--dim); } #reads small { font-family: ui-monospace, 'DejaVu Sans Mono', monospace; }
.terms small { display: block; } label[for=question] { display: block; font-size: .85rem; color: var(--dim); font-weight: 600; margin-top: 16px; } textarea { width: 100%; }
.about { margin-top: 14px; color: var(--dim); font-size: .88rem; } .about p { margin: 2px 0; text-align: left; overflow-wrap: anywhere; } .ahead { margin-top: 18px; } #room { color: var(--dim); font-size: .85rem; }
@media (max-width: 760px) { main { grid-template-columns: 1fr; } #panel { display: none; } .working nav { display: none; } .working #panel { display: block; } nav { border: 0; } .row { grid-template-columns: 1fr; gap: 0; } .keys { display: none; } header { padding: 8px 12px; } .working header p { display: none; } }
`;
