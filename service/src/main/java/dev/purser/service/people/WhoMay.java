package dev.purser.service.people;

import java.util.List;
import java.util.Optional;
import org.springframework.http.HttpMethod;
import org.springframework.http.server.PathContainer;
import org.springframework.web.util.pattern.PathPattern;
import org.springframework.web.util.pattern.PathPatternParser;

/**
 * Who may ask what: every address of the API, with the least role. What no rule names is refused,
 * so that a new address is closed until somebody says whom it is for.
 */
public final class WhoMay {
  private static final PathPatternParser PARSER = PathPatternParser.defaultInstance;

  /** Every rule; the first that fits counts. */
  public static final List<Rule> RULES =
      List.of(
          anybody("GET", "/actuator/health/**"),
          viewer("GET", "/actuator/prometheus"),
          anybody("POST", "/agent/v1/enrol"),
          anybody("GET", "/agent/v1/link"),
          anybody("GET", "/agent/v1/road/*"),
          anybody("GET", "/api/v1/session"),
          anybody("POST", "/api/v1/session"),
          viewer("DELETE", "/api/v1/session"),
          viewer("GET", "/api/v1/tokens"),
          viewer("POST", "/api/v1/tokens"),
          viewer("DELETE", "/api/v1/tokens/{id}"),
          administrator("GET", "/api/v1/people"),
          administrator("PUT", "/api/v1/people/{name}"),
          administrator("DELETE", "/api/v1/people/{name}"),
          administrator("POST", "/api/v1/people/{name}/actions"),
          administrator("GET", "/api/v1/secrets"),
          administrator("POST", "/api/v1/secrets"),
          administrator("DELETE", "/api/v1/secrets/{id}"),
          administrator("GET", "/api/v1/secrets/stored"),
          administrator("PUT", "/api/v1/secrets/stored/{name}"),
          administrator("DELETE", "/api/v1/secrets/stored/{name}"),
          administrator("POST", "/api/v1/secrets/encryption"),
          viewer("GET", "/api/v1/connections"),
          operator("POST", "/api/v1/connections/{name}/trial"),
          viewer("GET", "/api/v1/remote-services"),
          viewer("GET", "/api/v1/runs/{id}/results"),
          viewer("GET", "/api/v1/runs/{id}/results/{number}"),
          viewer("GET", "/api/v1/runs/{id}/results/{number}/file"),
          viewer("GET", "/api/v1/runs/{id}/remote"),
          operator("POST", "/api/v1/runs/{id}/remote"),
          viewer("GET", "/api/v1/openapi/**"),
          viewer("GET", "/api/v1/openapi.yaml"),
          viewer("GET", "/api/v1/health"),
          viewer("GET", "/api/v1/today"),
          viewer("GET", "/api/v1/needs"),
          viewer("GET", "/api/v1/commitments"),
          viewer("GET", "/api/v1/commitments/{name}"),
          viewer("GET", "/api/v1/deciding"),
          author("POST", "/api/v1/commitments/{name}/renewal"),
          viewer("GET", "/api/v1/foretold"),
          viewer("GET", "/api/v1/plan"),
          viewer("GET", "/api/v1/outlook"),
          viewer("GET", "/api/v1/changes"),
          viewer("GET", "/api/v1/find"),
          viewer("GET", "/api/v1/graph"),
          viewer("GET", "/api/v1/runs"),
          viewer("GET", "/api/v1/runs/find"),
          viewer("GET", "/api/v1/runs/{id}"),
          viewer("GET", "/api/v1/runs/{id}/why"),
          viewer("GET", "/api/v1/runs/{id}/output"),
          operator("POST", "/api/v1/runs/{id}/actions"),
          operator("POST", "/api/v1/actions"),
          viewer("POST", "/api/v1/what-if"),
          operator("POST", "/api/v1/starts"),
          viewer("GET", "/api/v1/starts/parameters"),
          viewer("GET", "/api/v1/holds"),
          operator("POST", "/api/v1/holds"),
          viewer("GET", "/api/v1/capacities"),
          operator("POST", "/api/v1/capacities"),
          viewer("GET", "/api/v1/filters"),
          viewer("PUT", "/api/v1/filters/{name}"),
          viewer("DELETE", "/api/v1/filters/{name}"),
          viewer("GET", "/api/v1/alerts"),
          viewer("GET", "/api/v1/alerts/{id}"),
          viewer("GET", "/api/v1/alert-rules"),
          viewer("GET", "/api/v1/alert-steps"),
          viewer("GET", "/api/v1/alert-steps/feed"),
          viewer("GET", "/api/v1/alert-addresses"),
          viewer("GET", "/api/v1/alert-limits"),
          viewer("GET", "/api/v1/alert-sums"),
          operator("POST", "/api/v1/alert-trials"),
          viewer("POST", "/api/v1/alert-rehearsals"),
          viewer("GET", "/api/v1/events"),
          viewer("GET", "/api/v1/subscriptions"),
          operator("POST", "/api/v1/subscriptions"),
          operator("DELETE", "/api/v1/subscriptions/{id}"),
          viewer("GET", "/api/v1/maintenance"),
          operator("POST", "/api/v1/maintenance"),
          operator("DELETE", "/api/v1/maintenance/{id}"),
          viewer("GET", "/api/v1/handovers"),
          operator("POST", "/api/v1/handovers"),
          operator("POST", "/api/v1/handovers/{id}/taken"),
          viewer("GET", "/api/v1/duties"),
          viewer("GET", "/api/v1/duties/{name}"),
          operator("POST", "/api/v1/alerts/actions"),
          operator("POST", "/api/v1/alerts/{id}/actions"),
          viewer("GET", "/api/v1/audit"),
          viewer("GET", "/api/v1/watches"),
          operator("POST", "/api/v1/watches/{name}/try"),
          viewer("GET", "/api/v1/arrivals"),
          viewer("GET", "/api/v1/arrivals/{id}"),
          operator("POST", "/api/v1/arrivals/actions"),
          viewer("GET", "/api/v1/definitions"),
          author("POST", "/api/v1/definitions"),
          author("DELETE", "/api/v1/definitions/{kind}"),
          viewer("GET", "/api/v1/definitions/schema"),
          viewer("POST", "/api/v1/definitions/check"),
          viewer("POST", "/api/v1/definitions/preview"),
          viewer("POST", "/api/v1/definitions/from-crontab"),
          viewer("GET", "/api/v1/definitions/uses"),
          viewer("GET", "/api/v1/definitions/search"),
          viewer("GET", "/api/v1/definitions/left-over"),
          viewer("POST", "/api/v1/definitions/copy"),
          viewer("POST", "/api/v1/parcels/packed"),
          viewer("POST", "/api/v1/parcels/preview"),
          author("POST", "/api/v1/parcels"),
          viewer("GET", "/api/v1/templates"),
          viewer("GET", "/api/v1/templates/{name}"),
          viewer("POST", "/api/v1/templates/made-of"),
          viewer("POST", "/api/v1/templates/filled"),
          author("POST", "/api/v1/templates/take-back"),
          viewer("GET", "/api/v1/definitions/{kind}/versions"),
          viewer("GET", "/api/v1/definitions/{kind}/version"),
          viewer("GET", "/api/v1/definitions/withdrawn"),
          viewer("POST", "/api/v1/definitions/revert-preview"),
          author("POST", "/api/v1/definitions/revert"),
          viewer("POST", "/api/v1/definitions/rename-preview"),
          author("POST", "/api/v1/definitions/rename"),
          viewer("GET", "/api/v1/publications"),
          viewer("GET", "/api/v1/runs/{id}/definition"),
          viewer("GET", "/api/v1/drafts"),
          author("POST", "/api/v1/drafts"),
          viewer("GET", "/api/v1/drafts/{id}"),
          author("PUT", "/api/v1/drafts/{id}"),
          author("DELETE", "/api/v1/drafts/{id}"),
          author("POST", "/api/v1/drafts/{id}/actions"),
          author("POST", "/api/v1/drafts/{id}/trial"),
          author("POST", "/api/v1/drafts/{id}/publication"),
          viewer("GET", "/api/v1/source"),
          administrator("PUT", "/api/v1/source"),
          administrator("DELETE", "/api/v1/source"),
          author("POST", "/api/v1/source/look"),
          author("POST", "/api/v1/source/preview"),
          author("POST", "/api/v1/source/publication"),
          author("GET", "/api/v1/source/drift"),
          author("POST", "/api/v1/source/branch"),
          viewer("GET", "/api/v1/environment"),
          viewer("GET", "/api/v1/neighbours"),
          viewer("GET", "/api/v1/neighbours/{name}"),
          administrator("PUT", "/api/v1/neighbours/{name}"),
          administrator("DELETE", "/api/v1/neighbours/{name}"),
          viewer("GET", "/api/v1/neighbours/{name}/differences"),
          author("POST", "/api/v1/neighbours/{name}/parcel"),
          viewer("GET", "/api/v1/agreement"),
          administrator("PUT", "/api/v1/agreement"),
          viewer("GET", "/api/v1/calendars"),
          viewer("GET", "/api/v1/calendars/{name}/years/{year}"),
          viewer("POST", "/api/v1/calendars/{name}/years/{year}"),
          viewer("GET", "/api/v1/calendars/{name}/export"),
          viewer("POST", "/api/v1/calendars/import"),
          viewer("GET", "/api/v1/days"),
          viewer("GET", "/api/v1/days/explain"),
          viewer("GET", "/api/v1/streams"),
          viewer("GET", "/api/v1/streams/one"),
          viewer("GET", "/api/v1/streams/next"),
          viewer("POST", "/api/v1/streams/next"),
          viewer("GET", "/api/v1/streams/month"),
          viewer("GET", "/api/v1/streams/windows"),
          viewer("GET", "/api/v1/streams/feed"),
          operator("POST", "/api/v1/streams/pause"),
          operator("POST", "/api/v1/streams/resume"),
          operator("POST", "/api/v1/streams/windows/fill"),
          viewer("GET", "/api/v1/hosts"),
          operator("POST", "/api/v1/hosts/{name}/actions"),
          administrator("POST", "/api/v1/hosts/{name}/enrolment-token"),
          administrator("DELETE", "/api/v1/hosts/{name}/key"),
          viewer("GET", "/api/v1/history/runs"),
          administrator("POST", "/api/v1/history/runs"),
          viewer("POST", "/api/v1/history/amount"),
          administrator("POST", "/api/v1/history/deletion"));

  private WhoMay() {}

  /**
   * One address.
   *
   * @param path with a name in braces for what varies, and two stars for all below
   * @param least the least role; empty for everybody, signed in or not
   */
  public record Rule(HttpMethod method, PathPattern path, Optional<Role> least) {
    boolean fits(HttpMethod asked, PathContainer at) {
      boolean looks = asked.equals(HttpMethod.HEAD) && method.equals(HttpMethod.GET);
      return (looks || method.equals(asked)) && path.matches(at);
    }
  }

  /** The rule for a request; empty where no address is meant. */
  public static Optional<Rule> rule(HttpMethod method, String path) {
    PathContainer at = PathContainer.parsePath(path);
    return RULES.stream().filter(rule -> rule.fits(method, at)).findFirst();
  }

  /** Whether an address belongs to programs: all others are files of the console. */
  static boolean isForPrograms(String path) {
    return path.startsWith("/api/") || path.startsWith("/agent/") || path.startsWith("/actuator");
  }

  private static Rule anybody(String method, String path) {
    return new Rule(HttpMethod.valueOf(method), PARSER.parse(path), Optional.empty());
  }

  private static Rule viewer(String method, String path) {
    return of(method, path, Role.VIEWER);
  }

  private static Rule operator(String method, String path) {
    return of(method, path, Role.OPERATOR);
  }

  private static Rule author(String method, String path) {
    return of(method, path, Role.AUTHOR);
  }

  private static Rule administrator(String method, String path) {
    return of(method, path, Role.ADMINISTRATOR);
  }

  private static Rule of(String method, String path, Role least) {
    return new Rule(HttpMethod.valueOf(method), PARSER.parse(path), Optional.of(least));
  }
}
