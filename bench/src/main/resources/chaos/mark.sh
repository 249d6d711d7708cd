#!/bin/sh
# Leaves a mark, does made-up work, and leaves another mark. Arguments: the marks' file, what to do.
marks=$1
echo "$PURSER_RUN $PURSER_ATTEMPT begin" >>"$marks"
echo "$PURSER_RUN $PURSER_ATTEMPT"
code=0
case $2 in
  quick) seq 1 50 ;;
  files) echo "$3" | while read -r file; do cat "$file" >>"$marks.files"; done; seq 1 50 ;;
  flaky) seq 1 50; [ "$PURSER_ATTEMPT" -gt 1 ] || code=1 ;;
  slow) seq 1 25; sleep "$3"; seq 26 50 ;;
  big) seq 1 20000; sleep 0.5; seq 20001 40000 ;;
esac
echo "$PURSER_RUN $PURSER_ATTEMPT end" >>"$marks"
exit $code
