package dev.purser.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.springframework.boot.security.autoconfigure.actuate.web.servlet.EndpointRequest;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpMethod;
import org.springframework.security.access.hierarchicalroles.RoleHierarchy;
import org.springframework.security.access.hierarchicalroles.RoleHierarchyImpl;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.http.SessionCreationPolicy;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.SimpleGrantedAuthority;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.authentication.UsernamePasswordAuthenticationFilter;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.web.filter.OncePerRequestFilter;

/** Who may pass, to what. */
@Configuration
class Door {
  private static final String FEED = "/api/v1/streams/feed";
  private static final String CONTENT_POLICY =
      "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline';"
          + " font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none';"
          + " form-action 'self'; frame-ancestors 'none'";

  @Bean
  static PasswordEncoder passwordEncoder() {
    return Argon2PasswordEncoder.defaultsForSpringSecurity_v5_8();
  }

  @Bean
  static RoleHierarchy roleHierarchy() {
    return RoleHierarchyImpl.fromHierarchy(
        "ROLE_ADMINISTRATOR > ROLE_AUTHOR\nROLE_AUTHOR > ROLE_OPERATOR\nROLE_OPERATOR > ROLE_VIEWER");
  }

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

  @Bean
  SecurityFilterChain chain(HttpSecurity http, People people, SecurityContextRepository contexts) {
    whoMay(http);
    againstForgery(http);
    headers(http);
    http.securityContext(context -> context.securityContextRepository(contexts));
    http.sessionManagement(
        sessions -> sessions.sessionCreationPolicy(SessionCreationPolicy.IF_REQUIRED));
    http.exceptionHandling(
        problems ->
            problems.authenticationEntryPoint(
                (request, response, e) -> {
                  if (request.getRequestURI().equals(FEED)) {
                    response.setHeader(
                        HttpHeaders.WWW_AUTHENTICATE, "Basic realm=\"Purser\", charset=\"UTF-8\"");
                  }
                  response.setStatus(HttpServletResponse.SC_UNAUTHORIZED);
                }));
    http.requestCache(cache -> cache.disable());
    http.httpBasic(basic -> basic.disable());
    http.formLogin(form -> form.disable());
    http.logout(logout -> logout.disable());
    http.addFilterBefore(new TokenFilter(people), UsernamePasswordAuthenticationFilter.class);
    return http.build();
  }

  /** Who may ask what. */
  private static void whoMay(HttpSecurity http) {
    http.authorizeHttpRequests(
        requests ->
            requests
                .requestMatchers(EndpointRequest.to("health"))
                .permitAll()
                .requestMatchers("/agent/v1/**")
                .permitAll()
                .requestMatchers(HttpMethod.POST, "/api/v1/session")
                .permitAll()
                .requestMatchers(HttpMethod.GET, "/api/v1/session")
                .permitAll()
                .requestMatchers(
                    "/api/v1/people/**",
                    "/api/v1/hosts/*/enrolment-token",
                    "/api/v1/history/deletion")
                .hasRole("ADMINISTRATOR")
                .requestMatchers(HttpMethod.POST, "/api/v1/history/amount")
                .hasRole("VIEWER")
                .requestMatchers(HttpMethod.POST, "/api/v1/definitions")
                .hasRole("AUTHOR")
                .requestMatchers(HttpMethod.DELETE, "/api/v1/definitions/**")
                .hasRole("AUTHOR")
                .requestMatchers(
                    HttpMethod.POST,
                    "/api/v1/definitions/check",
                    "/api/v1/definitions/preview",
                    "/api/v1/definitions/from-crontab",
                    "/api/v1/calendars/import")
                .hasRole("VIEWER") // they look, and change nothing
                .requestMatchers(HttpMethod.POST, "/api/v1/tokens", "/api/v1/session/password")
                .hasRole("VIEWER")
                .requestMatchers(HttpMethod.DELETE, "/api/v1/session")
                .hasRole("VIEWER")
                .requestMatchers(HttpMethod.POST, "/api/v1/**")
                .hasRole("OPERATOR")
                .requestMatchers("/api/v1/**", "/actuator/**")
                .hasRole("VIEWER")
                .requestMatchers(HttpMethod.GET, "/**")
                .permitAll() // the console's own files; they hold nothing
                .anyRequest()
                .denyAll());
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

  /** A person as Spring Security knows them. */
  static Authentication authentication(PersonRow person) {
    List<SimpleGrantedAuthority> roles =
        person.mustChange
            ? List.of()
            : List.of(
                new SimpleGrantedAuthority(
                    "ROLE_" + person.role.toUpperCase(java.util.Locale.ROOT)));
    return UsernamePasswordAuthenticationToken.authenticated(person.name, null, roles);
  }

  /** Lets programs in by their token, for one request at a time. */
  private static final class TokenFilter extends OncePerRequestFilter {
    private final People people;

    TokenFilter(People people) {
      this.people = people;
    }

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
      return request.getRequestURI().startsWith("/agent/");
    }

    @Override
    protected void doFilterInternal(
        HttpServletRequest request, HttpServletResponse response, FilterChain chain)
        throws ServletException, IOException {
      String header = request.getHeader(HttpHeaders.AUTHORIZATION);
      if (header == null) {
        chain.doFilter(request, response);
        return;
      }
      // Whoever gives a token is known by it alone: a session beside it does not count, so that
      // leaving the CSRF check out for such requests opens nothing.
      Optional<PersonRow> person = people.byToken(token(header, request));
      SecurityContext context = SecurityContextHolder.createEmptyContext();
      person.ifPresent(found -> context.setAuthentication(authentication(found)));
      SecurityContextHolder.setContext(context);
      if (person.isEmpty()) {
        response.setStatus(HttpServletResponse.SC_UNAUTHORIZED);
        return;
      }
      chain.doFilter(request, response);
    }

    /** Calendar programs know only a name and a password: for the feed the password is a token. */
    private static String token(String header, HttpServletRequest request) {
      if (header.startsWith("Bearer ")) {
        return header.substring(7);
      }
      boolean feed = request.getRequestURI().equals(FEED) && header.startsWith("Basic ");
      if (!feed) {
        return "";
      }
      try {
        String both =
            new String(Base64.getDecoder().decode(header.substring(6)), StandardCharsets.UTF_8);
        return both.substring(both.indexOf(':') + 1);
      } catch (IllegalArgumentException e) {
        return "";
      }
    }

    @Override
    protected boolean shouldNotFilterAsyncDispatch() {
      return true;
    }
  }
}
