# Completion for the three programs of Brave Quarry: what they offer is read from their own help, so
# that it never says what they do not do.
_brave_quarry_words() {
  "$@" --help 2>/dev/null | sed -n 's/^ *\(-[^, ]*,\)\{0,1\}\(--[a-z-]*\).*/\2/p; s/^  \([a-z][a-z-]*\) .*/\1/p'
}
_brave_quarry() {
  local word=${COMP_WORDS[COMP_CWORD]} program=${COMP_WORDS[0]} act=""
  local i
  for ((i = 1; i < COMP_CWORD; ++i)); do
    case ${COMP_WORDS[i]} in -*) ;; *) act=${COMP_WORDS[i]}; break ;; esac
  done
  if [ -z "$act" ] && [ "$(basename "$program")" != brave-quarry ]; then
    mapfile -t COMPREPLY < <(compgen -W "$(_brave_quarry_words "$program")" -- "$word")
  elif [[ $word == -* ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$(_brave_quarry_words "$program" ${act:+"$act"})" -- "$word")
  else
    COMPREPLY=()
  fi
}
complete -o default -F _brave_quarry brave-quarry brave-quarry-cli brave-quarry-instrument
