/** Of the pages for clients: light, dark, on a phone, on paper, from either side. */
export const SITE_STYLE = `
:root{color-scheme:light dark;--text:light-dark(#1c2026,#e6e8eb);--back:light-dark(#fff,#15181c);--soft:light-dark(#f2f4f6,#20242a);--line:light-dark(#c9ced5,#444a52);--quiet:light-dark(#555c66,#a9b0b9);--link:light-dark(#0b57a8,#8cc2ff);--gone:light-dark(#9c1c1c,#ff9d97);--new:light-dark(#17632d,#86d69b)}
*{box-sizing:border-box}
body{margin:0;background:var(--back);color:var(--text);font:1rem/1.55 system-ui,sans-serif}
a{color:var(--link)}a:focus-visible,input:focus-visible,pre:focus-visible,.scroll:focus-visible{outline:3px solid var(--link);outline-offset:2px}
.skip:not(:focus){position:absolute;inline-size:1px;block-size:1px;overflow:hidden;clip-path:inset(50%)}.skip:focus{display:block;padding:.5rem 1rem}
header,main{max-inline-size:58rem;margin-inline:auto;padding:0 1.2rem}
header{display:flex;flex-wrap:wrap;justify-content:space-between;align-items:baseline;gap:.3rem 1.5rem;padding-block:.8rem;border-block-end:1px solid var(--line)}
nav ul{display:flex;flex-wrap:wrap;gap:.1rem .9rem;list-style:none;margin:0;padding:0}
nav [aria-current]{color:var(--text);font-weight:600;text-decoration:none}
h1{font-size:1.65rem;line-height:1.25;margin:1.3rem 0 .2rem}h2{font-size:1.2rem;margin:2rem 0 .4rem}h3{font-size:1.02rem;margin:1.3rem 0 .2rem}
code,pre{font-family:ui-monospace,"DejaVu Sans Mono",monospace;font-size:.88em;unicode-bidi:isolate;direction:ltr}
pre{background:var(--soft);border:1px solid var(--line);border-radius:.4rem;padding:.7rem .9rem;white-space:pre-wrap;overflow-wrap:anywhere;direction:ltr;text-align:left}
.lead{color:var(--quiet);margin:.1rem 0 0}
dl{display:grid;grid-template-columns:max-content 1fr;gap:.2rem 1.2rem;margin:.6rem 0}dt{color:var(--quiet)}dd{margin:0;overflow-wrap:anywhere}
.scroll{overflow-x:auto}table{border-collapse:collapse;inline-size:100%}
th,td{text-align:start;vertical-align:top;padding:.35rem .9rem .35rem 0;border-block-end:1px solid var(--line)}
thead th{color:var(--quiet);font-weight:600}
.codes{columns:2 20rem;list-style:none;padding:0;margin:.5rem 0}.codes li{break-inside:avoid;margin-block-end:.4rem}.codes small a{margin-inline-end:.6rem}
.field{border-block-start:1px solid var(--line);padding-block:.2rem .6rem}.field h3 code{font-weight:400;color:var(--quiet);margin-inline-start:.6rem}
.rules{list-style:none;margin:.2rem 0;padding:0;display:grid;gap:.35rem}.rules li{display:grid;grid-template-columns:minmax(9rem,15rem) 1fr;gap:0 1.2rem}.rules small{color:var(--quiet);display:block;overflow-wrap:anywhere}
.secret{color:var(--quiet);font-style:italic;margin:.1rem 0}
label{font-weight:600}input{font:inherit;color:inherit;background:var(--back);border:1px solid var(--line);border-radius:.3rem;padding:.35rem .6rem;inline-size:min(100%,22rem);display:block;margin-block:.2rem .6rem}
ins{color:var(--new);text-decoration:none}ins::before{content:"+ "}del{color:var(--gone)}del::before{content:"− "}.change{display:grid;gap:.1rem;margin-block:.6rem}
@media (max-width:40rem){.rules li,dl{grid-template-columns:1fr;gap:0}dd{margin-block-end:.4rem}h1{font-size:1.4rem}}
@media print{header nav,.find,.skip{display:none}a{color:inherit;text-decoration:none}}
`;
