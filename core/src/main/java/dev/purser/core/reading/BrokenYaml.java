package dev.purser.core.reading;

import dev.purser.core.problem.Problem;
import java.util.List;
import java.util.Optional;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;

/** What is wrong with a text that is not YAML, in words of our own and at the place to mend. */
public final class BrokenYaml {
  /** In their order: the first whose sign stands in what the parser says is meant. */
  private static final List<Case> CASES =
      List.of(
          new Case("(TAB)", "a tab cannot indent YAML; use spaces", false),
          new Case(
              "cannot start any token",
              "a value cannot begin with this character; put the text in quotes",
              false),
          new Case(
              "could not find expected ':'",
              "expected a colon after this name; is the colon missing, or the line indented"
                  + " wrongly?",
              true),
          new Case(
              "mapping values are not allowed",
              "a colon cannot stand here; put the text in quotes if the colon belongs to it, else"
                  + " look at the indentation",
              false),
          new Case(
              "mapping keys are not allowed",
              "a key cannot stand here; look at the indentation",
              false),
          new Case(
              "sequence entries are not allowed",
              "an entry of a list (\"- …\") cannot stand here; look at the indentation",
              false),
          new Case(
              "quoted scalar",
              "the text in quotes that begins here is not closed by a quote, or holds what cannot"
                  + " stand in quotes",
              true),
          new Case(
              "flow sequence",
              "the list that begins here goes on with a comma or ends with ]; one of them is"
                  + " missing",
              true),
          new Case(
              "flow mapping",
              "what begins here with { goes on with a comma or ends with }; one of them is missing",
              true),
          new Case(
              "flow node",
              "a value is missing here, or the ] or } that closes what is open above",
              false),
          new Case(
              "block mapping",
              "this does not belong where its indentation puts it; compare it with the lines above",
              false),
          new Case(
              "block collection",
              "this does not belong where its indentation puts it; compare it with the lines above",
              false),
          new Case(
              "alias",
              "a definition must not use YAML anchors and aliases (& and *); write it out, or put"
                  + " the text in quotes",
              false),
          new Case("directive", "a line that begins with % cannot stand here; leave it out", false),
          new Case(
              "special characters",
              "there is a character that cannot be printed; take it out",
              false),
          new Case(
              "block scalar",
              "the text of several lines that begins here cannot be read"
                  + " (after | or > only + or - and a digit may follow)",
              true));

  private static final String ANY =
      "look for a missing quote, comma, colon or bracket here and on the line above";

  private BrokenYaml() {}

  /**
   * A kind of mistake.
   *
   * @param sign what the parser says of it
   * @param atBeginning whether to point at where the broken thing begins, not at where it was seen
   */
  private record Case(String sign, String words, boolean atBeginning) {}

  /** The problem to tell of it. */
  public static Problem problem(String file, YamlEngineException e) {
    if (!(e instanceof MarkedYamlEngineException marked)) {
      Optional<Case> known = of(String.valueOf(e.getMessage()));
      return Problem.error(
          file, 0, 0, "this is not valid YAML: " + known.map(Case::words).orElse(ANY));
    }
    String said = marked.getContext() + " " + marked.getProblem();
    Optional<Case> known = of(said);
    Optional<Mark> mark =
        known.filter(Case::atBeginning).isPresent()
            ? marked.getContextMark().or(marked::getProblemMark)
            : marked.getProblemMark().or(marked::getContextMark);
    return Problem.error(
        file,
        mark.map(at -> at.getLine() + 1).orElse(0),
        mark.map(at -> at.getColumn() + 1).orElse(0),
        "this is not valid YAML: " + known.map(Case::words).orElse(ANY));
  }

  private static Optional<Case> of(String said) {
    return CASES.stream().filter(one -> said.contains(one.sign())).findFirst();
  }
}
