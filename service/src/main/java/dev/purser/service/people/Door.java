package dev.purser.service.people;

import jakarta.servlet.DispatcherType;
import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import java.util.function.Supplier;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpMethod;
import org.springframework.security.authorization.AuthorizationDecision;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.access.intercept.RequestAuthorizationContext;
import org.springframework.security.web.authentication.UsernamePasswordAuthenticationFilter;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.session.HttpSessionEventPublisher;

/** Who may pass, to what. */
@Configuration
class Door {
  private static final String CONTENT_POLICY =
      "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline';"
          + " font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none';"
          + " form-action 'self'; frame-ancestors 'none'";

  @Bean
  static SecurityContextRepository contextRepository() {
    return new HttpSessionSecurityContextRepository();
  }

  /** People sign in through the API only; this keeps any other way from being set up. */
  @Bean
  static UserDetailsService nobody() {
    return name -> {
      throw new UsernameNotFoundException(name);
    };
  }

  /** Tells when a session ends, so that what hangs on it can end too. */
  @Bean
  static HttpSessionEventPublisher sessionEvents() {
    return new HttpSessionEventPublisher();
  }

  @Bean
  SecurityFilterChain chain(
      HttpSecurity http, People people, Tokens tokens, SecurityContextRepository contexts) {
    http.authorizeHttpRequests(requests -> requests.anyRequest().access(Door::may));
    againstForgery(http);
    headers(http);
    http.securityContext(context -> context.securityContextRepository(contexts));
    http.sessionManagement(sessions -> sessions.disable()); // it would make one for each token
    http.exceptionHandling(
        problems ->
            problems
                .authenticationEntryPoint(
                    (request, response, e) ->
                        Refusals.unauthorized(
                            request, response, "sign in first, or give a token that holds"))
                .accessDeniedHandler((request, response, e) -> Refusals.denied(request, response)));
    http.requestCache(cache -> cache.disable());
    http.httpBasic(basic -> basic.disable());
    http.formLogin(form -> form.disable());
    http.logout(logout -> logout.disable());
    http.anonymous(anonymous -> anonymous.disable());
    http.addFilterBefore(new Admission(people, tokens), UsernamePasswordAuthenticationFilter.class);
    return http.build();
  }

  /** Whether a request may pass; what no rule names may not. */
  private static AuthorizationDecision may(
      Supplier<? extends Authentication> who, RequestAuthorizationContext context) {
    HttpServletRequest request = context.getRequest();
    if (request.getDispatcherType() == DispatcherType.ASYNC) {
      return new AuthorizationDecision(true); // the end of an answer that was let in
    }
    String path = request.getRequestURI();
    HttpMethod method = HttpMethod.valueOf(request.getMethod());
    if (!WhoMay.isForPrograms(path)) {
      boolean looks = method.equals(HttpMethod.GET) || method.equals(HttpMethod.HEAD);
      return new AuthorizationDecision(looks); // the console's own files; they hold nothing
    }
    Optional<WhoMay.Rule> rule = WhoMay.rule(method, path);
    return new AuthorizationDecision(
        rule.isPresent()
            && rule.get()
                .least()
                .map(
                    least -> Pass.role(who.get()).filter(role -> role.isAtLeast(least)).isPresent())
                .orElse(true));
  }

  private static void againstForgery(HttpSecurity http) {
    http.csrf(
        csrf ->
            csrf.spa()
                .ignoringRequestMatchers("/agent/v1/**")
                .ignoringRequestMatchers( // no session to misuse yet; JSON only, so no form can
                    // post it
                    request ->
                        request.getMethod().equals("POST")
                            && request.getRequestURI().equals("/api/v1/session"))
                .ignoringRequestMatchers(
                    request -> request.getHeader(HttpHeaders.AUTHORIZATION) != null));
  }

  private static void headers(HttpSecurity http) {
    http.headers(
        headers ->
            headers
                .contentSecurityPolicy(policy -> policy.policyDirectives(CONTENT_POLICY))
                .referrerPolicy(
                    referrer ->
                        referrer.policy(
                            org.springframework.security.web.header.writers
                                .ReferrerPolicyHeaderWriter.ReferrerPolicy.NO_REFERRER))
                .permissionsPolicyHeader(
                    permissions -> permissions.policy("camera=(), microphone=(), geolocation=()")));
  }
}
