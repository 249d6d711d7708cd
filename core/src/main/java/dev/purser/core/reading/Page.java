package dev.purser.core.reading;

import dev.purser.core.problem.Problem;
import dev.purser.core.template.Trees;
import java.util.List;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** One definition file while it is read: turns nodes into places and keeps what is wrong. */
record Page(String file, List<Problem> problems) {

  long errors() {
    return problems.stream().filter(Problem::isError).count();
  }

  void error(Node node, String message) {
    problems.add(Problem.error(file, line(node), column(node), message + Trees.origin(node)));
  }

  void warning(Node node, String message) {
    problems.add(Problem.warning(file, line(node), column(node), message + Trees.origin(node)));
  }

  void errorInPhrase(Node node, int phraseColumn, String message) {
    problems.add(
        Problem.error(
            file, line(node), columnIn(node, phraseColumn), message + Trees.origin(node)));
  }

  /** The column in the file of a column in a phrase, exact where the phrase is on one line. */
  static int columnIn(Node node, int phraseColumn) {
    if (!(node instanceof ScalarNode scalar)
        || line(node) != node.getEndMark().map(Mark::getLine).orElse(0) + 1) {
      return column(node);
    }
    int quote = scalar.getScalarStyle() == ScalarStyle.PLAIN ? 0 : 1;
    return column(node) + quote + phraseColumn - 1;
  }

  static int line(Node node) {
    return node.getStartMark().map(Mark::getLine).orElse(-1) + 1;
  }

  static int column(Node node) {
    return node.getStartMark().map(Mark::getColumn).orElse(-1) + 1;
  }
}
