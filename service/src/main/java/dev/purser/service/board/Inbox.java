package dev.purser.service.board;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.Condition;
import java.util.concurrent.locks.ReentrantLock;

/**
 * What the engine is to do. What people ask comes before the news of agents, so that a day's worth
 * of news keeps nobody waiting at a page; among themselves both stay in their order.
 */
final class Inbox<T> {
  private final int mostAsked;
  private final int mostNews;
  private final Deque<T> asked = new ArrayDeque<>();
  private final Deque<T> news = new ArrayDeque<>();
  private final ReentrantLock lock = new ReentrantLock();
  private final Condition filled = lock.newCondition();

  Inbox(int mostAsked, int mostNews) {
    this.mostAsked = mostAsked;
    this.mostNews = mostNews;
  }

  /** Takes what a person asks; false where it is full. */
  boolean ask(T task) {
    return add(asked, mostAsked, task);
  }

  /** Takes news; false where it is full. */
  boolean tell(T task) {
    return add(news, mostNews, task);
  }

  private boolean add(Deque<T> line, int most, T task) {
    lock.lock();
    try {
      if (line.size() >= most) {
        return false;
      }
      line.add(task);
      filled.signal();
      return true;
    } finally {
      lock.unlock();
    }
  }

  /** Waits for something, and takes all that is there up to a number. */
  List<T> take(long millis, int most) throws InterruptedException {
    lock.lockInterruptibly();
    try {
      long left = TimeUnit.MILLISECONDS.toNanos(millis);
      while (asked.isEmpty() && news.isEmpty() && left > 0) {
        left = filled.awaitNanos(left);
      }
      List<T> taken = new ArrayList<>();
      for (Deque<T> line : List.of(asked, news)) {
        while (taken.size() < most && !line.isEmpty()) {
          taken.add(line.poll());
        }
      }
      return taken;
    } finally {
      lock.unlock();
    }
  }

  int size() {
    lock.lock();
    try {
      return asked.size() + news.size();
    } finally {
      lock.unlock();
    }
  }
}
