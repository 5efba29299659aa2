#!/bin/sh
# Runs Qt's moc (first argument) without include folders: it then reads the one header that it was
# given instead of every header below it, a hundred times. What it writes is the same: our meta-objects
# hang on no macro of another file.
moc="$1"
shift
skip=
for argument do
  shift
  if [ -n "$skip" ]; then skip=; continue; fi
  case "$argument" in
    -I*) ;;
    --include) skip=1 ;;
    *) set -- "$@" "$argument" ;;
  esac
done
exec "$moc" "$@"
