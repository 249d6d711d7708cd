package dev.purser.core.template;

import org.snakeyaml.engine.v2.nodes.Node;

/**
 * The YAML of what a template made, written when it is first asked for: checking thousands of
 * streams asks for none. Two are equal where their texts are.
 */
public final class FilledText {
  private Node tree;
  private String text;

  /** The text of a tree that nobody changes any more. */
  public FilledText(Node tree) {
    this.tree = tree;
  }

  /** As YAML. */
  public synchronized String text() {
    if (text == null) {
      text = Trees.print(tree);
      tree = null;
    }
    return text;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof FilledText filled && filled.text().equals(text());
  }

  @Override
  public int hashCode() {
    return text().hashCode();
  }

  @Override
  public String toString() {
    return text();
  }
}
