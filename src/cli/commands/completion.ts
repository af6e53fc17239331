import { Argument, type Command } from 'commander';
import { printExact } from '../print/out.js';
import { keyed } from '../../core/base/keyed.js';

// Each hands over the words that were typed, and takes a line for each that may follow. Where there
// is none the shell knows files.
const SCRIPTS: Readonly<Record<string, string>> = keyed({
  bash: `_zeitwort() {
  local line words=("\${COMP_WORDS[@]:1:COMP_CWORD}")
  words=("\${words[@]//\\\\/}")
  COMPREPLY=()
  while IFS= read -r line; do
    COMPREPLY+=("$(printf '%q' "$line")")
  done < <(zeitwort complete -- "\${words[@]}" 2>/dev/null)
}
complete -o default -o nosort -F _zeitwort zeitwort`,
  zsh: `#compdef zeitwort
_zeitwort() {
  local -a found
  found=("\${(@f)$(zeitwort complete -- "\${(@Q)words[2,CURRENT]}" 2>/dev/null)}")
  if [[ -n "\${found[1]}" ]]; then compadd -U -V zeitwort -a found; else _files; fi
}
compdef _zeitwort zeitwort`,
  fish: `function __zeitwort
  set -l words (commandline -opc) (commandline -ct)
  zeitwort complete -- $words[2..-1] 2>/dev/null
end
complete -c zeitwort -a '(__zeitwort)'`,
});

export function define(command: Command): void {
  command
    .addArgument(new Argument('<shell>', 'the shell').choices(Object.keys(SCRIPTS)))
    .addHelpText(
      'after',
      '\nbash: eval "$(zeitwort completion bash)"; fish: zeitwort completion fish | source; zsh as bash, after compinit.',
    )
    .action((shell: string) => {
      printExact(SCRIPTS[shell] ?? '');
    });
}
