package dev.purser.core.course;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Small numbers for names, from 0, which stay. Asked only where something comes in from outside;
 * copies share it until one of them learns a new name.
 */
final class Names<N> {
  private Map<N, Integer> numbers = new HashMap<>();
  private List<N> names = new ArrayList<>();
  private boolean shared;

  Names() {}

  private Names(Names<N> other) {
    numbers = other.numbers;
    names = other.names;
    shared = true;
  }

  Names<N> copy() {
    shared = true;
    return new Names<>(this);
  }

  int size() {
    return names.size();
  }

  N name(int number) {
    return names.get(number);
  }

  /** The number of a name; -1 where it is not known. */
  int find(N name) {
    return numbers.getOrDefault(name, -1);
  }

  /** The number of a name, a new one where it is not known. */
  int of(N name) {
    Integer known = numbers.get(name);
    if (known != null) {
      return known;
    }
    if (shared) {
      numbers = new HashMap<>(numbers);
      names = new ArrayList<>(names);
      shared = false;
    }
    numbers.put(name, names.size());
    names.add(name);
    return names.size() - 1;
  }
}
