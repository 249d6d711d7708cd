#!/bin/sh
# A made-up piece of work on a file: reads a note of harbour dues. $1 the file.
echo "reading $1"
sleep 5
if grep -q 'tonnage ?' "$1"; then
  echo "line $(grep -n 'tonnage ?' "$1" | cut -d: -f1): the tonnage is missing" >&2
  exit 3
fi
echo "notes=$(grep -c '^due' "$1")" >>"$PURSER_VALUES"
echo "$(grep -c '^due' "$1") dues read"
