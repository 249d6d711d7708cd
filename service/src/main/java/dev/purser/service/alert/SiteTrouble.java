package dev.purser.service.alert;

import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Stream;
import java.util.List;

/**
 * Something that is wrong with the site now: a host, a file, a calendar.
 *
 * @param reference what it is about, the same for as long as it lasts, such as {@code host depot}
 * @param subject what that is
 * @param title what people call it
 * @param text what is wrong, as the end of a sentence
 * @param streams those that it matters to: whoever gets their alerts is told
 */
public record SiteTrouble(
    String reference, AlertSubject subject, String title, String text, List<Stream> streams) {}
