# Faults put by hand into what decides, one at a time: each must turn a test red. The list is bench/mutants.json.

# run_mutants [PART-OF-NAME]: ends with how many were found; red when a tenth or more were not.
run_mutants() {
  local copy
  work=$(mktemp -d)
  trap 'rm -rf "$work"' EXIT
  copy=$work/copy
  mkdir "$copy"
  git ls-files -z src tests/WiseLoom.Core.Tests tests/corpus demo docs/formats '*.props' global.json .editorconfig bench | xargs -0 cp --parents -t "$copy"
  node scripts/mutants.mjs "$copy" "${1:-}"
}
