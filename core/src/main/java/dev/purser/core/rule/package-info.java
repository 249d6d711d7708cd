/**
 * The rules of the day, a class each, over one course. They are the only ones that change it;
 * whoever looks from outside has {@code board}.
 */
package dev.purser.core.rule;
