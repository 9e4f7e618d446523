# Runs every command that README and docs show, as it is shown.

# shown_commands: one a line, without what is said beside it.
shown_commands() { grep -ohE '^\./wise-loom [a-z-]+.*' README.md docs/*.md docs/*/*.md | sed -E 's/ +#.*$//; s/ +$//' | sort -u; }

# run_shown COMMAND: passes when the command did what it is for: 1 is its word for "there are problems". Files it makes go into $work.
run_shown() {
  local command=${1/ -o out/ -o $work/out} code=0
  case $command in
    # These run for minutes or for ever; other tests start them. That the entry knows them is held here.
    './wise-loom start'* | './wise-loom test'* | './wise-loom bench'* | './wise-loom compare'* | './wise-loom screenshots'*)
      grep -qE "(^|[ |(])$(cut -d' ' -f2 <<<"$command")( \||\))" wise-loom
      return ;;
    './wise-loom trial'*) command="$command --count 2" ;;
  esac
  bash -c "$command" </dev/null || code=$?
  [ "$code" -le 1 ]
}

check_shown_commands() {
  local command
  while read -r command; do check "$command" run_shown "$command"; done < <(shown_commands)
}
