package dev.purser.service;

import java.time.Duration;
import java.time.ZoneId;
import org.springframework.boot.context.properties.ConfigurationProperties;

/**
 * What an administrator sets.
 *
 * @param zone in which the service's own day turns, and in which streams without a schedule tell
 *     time
 * @param keepOutput bytes of output kept of one attempt
 * @param keepOutputFor how long output is kept after its run has ended
 * @param keepRunsFor for how long runs are kept after they have ended, with their attempts
 * @param keepRuns how many runs are kept at most, whatever their age; 0 for any number
 * @param keepArrivalsFor for how long a file that was used is known, so as not to be used again
 * @param keepAuditFor for how long it is known what people did
 * @param calendarWarning how long before a calendar runs out people are told, where it does not say
 * @param missedAfter a start that is later than this because the service was away was missed; what
 *     is less late is just late
 * @param mailFrom the sender of alert mails
 * @param environment which environment this service stands for, such as test: its parameters count
 * @param standby whether this service lets another be the active one where it can
 * @param restored whether the records are those of a backup, so that hosts may know more than they
 * @param consoleAddress where people reach the console, for links in alerts
 * @param clockOffset how far the service's clock goes ahead of the machine's, for a demo or a test
 *     that must not meet midnight; zero everywhere else
 * @param trustedProxies addresses of proxies, with commas between, whose word is taken for who asks
 * @param tls a directory with cert.pem and key.pem, for https by itself; empty for plain http
 * @param secretsDirectory where secrets stand that definitions name, a file each; empty for none
 * @param mayCall hosts within the house that definitions may call, HOST or HOST:PORT with commas
 * @param snmpNumber the enterprise number below which traps are
 */
@ConfigurationProperties("purser")
public record Settings(
    ZoneId zone,
    long keepOutput,
    Duration keepOutputFor,
    Duration keepRunsFor,
    long keepRuns,
    Duration keepArrivalsFor,
    Duration keepAuditFor,
    Duration calendarWarning,
    Duration missedAfter,
    String mailFrom,
    String environment,
    boolean standby,
    boolean restored,
    String consoleAddress,
    Duration clockOffset,
    String trustedProxies,
    String tls,
    String secretsDirectory,
    String mayCall,
    int snmpNumber) {}
