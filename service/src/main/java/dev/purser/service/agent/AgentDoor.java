package dev.purser.service.agent;

import dev.purser.service.board.Engine;
import dev.purser.service.board.Lease;
import dev.purser.service.road.RoadHandler;
import dev.purser.wire.agent.Enrolment;
import java.util.Map;
import java.util.Optional;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.server.ServerHttpRequest;
import org.springframework.http.server.ServerHttpResponse;
import org.springframework.transaction.TransactionException;
import org.springframework.web.socket.WebSocketHandler;
import org.springframework.web.socket.config.annotation.EnableWebSocket;
import org.springframework.web.socket.config.annotation.WebSocketConfigurer;
import org.springframework.web.socket.config.annotation.WebSocketHandlerRegistry;
import org.springframework.web.socket.server.HandshakeInterceptor;
import org.springframework.web.socket.server.standard.ServletServerContainerFactoryBean;

/** Lets agents in: by the key of the host whose name they give. */
@Configuration
@EnableWebSocket
class AgentDoor implements WebSocketConfigurer, HandshakeInterceptor {
  private final AgentLink link;
  private final RoadHandler roads;
  private final HostRecords hosts;
  private final Engine engine;
  private final Lease lease;

  AgentDoor(AgentLink link, RoadHandler roads, HostRecords hosts, Engine engine, Lease lease) {
    this.link = link;
    this.roads = roads;
    this.hosts = hosts;
    this.engine = engine;
    this.lease = lease;
  }

  @Override
  public void registerWebSocketHandlers(WebSocketHandlerRegistry registry) {
    registry
        .addHandler(link, Enrolment.LINK_PATH)
        .addInterceptors(this)
        .setAllowedOriginPatterns(); // agents send no Origin; browsers have no business here
    registry
        .addHandler(roads, Enrolment.ROAD_PATH + "*")
        .addInterceptors(this)
        .setAllowedOriginPatterns();
  }

  @Bean
  static ServletServerContainerFactoryBean webSocketLimits() {
    ServletServerContainerFactoryBean limits = new ServletServerContainerFactoryBean();
    limits.setMaxTextMessageBufferSize(16 * 1024); // what is longer comes in pieces
    return limits;
  }

  @Override
  public boolean beforeHandshake(
      ServerHttpRequest request,
      ServerHttpResponse response,
      WebSocketHandler handler,
      Map<String, Object> attributes) {
    HttpHeaders headers = request.getHeaders();
    String host = Optional.ofNullable(headers.getFirst(Enrolment.HOST_HEADER)).orElse("");
    String instance = Optional.ofNullable(headers.getFirst(Enrolment.INSTANCE_HEADER)).orElse("");
    String authorization =
        Optional.ofNullable(headers.getFirst(HttpHeaders.AUTHORIZATION)).orElse("");
    String key = authorization.startsWith("Bearer ") ? authorization.substring(7) : "";
    if (!engine.isActive()) {
      return refuse(
          response, HttpStatus.SERVICE_UNAVAILABLE, "this service stands by: " + lease.inWords());
    }
    try {
      Optional<String> refusal = hosts.refusal(host, key);
      if (refusal.isPresent()) {
        return refuse(response, HttpStatus.UNAUTHORIZED, refusal.get());
      }
    } catch (DataAccessException | TransactionException e) {
      return refuse(response, HttpStatus.SERVICE_UNAVAILABLE, "the database is away");
    }
    if (link.isTaken(host, instance)) {
      return refuse(
          response, HttpStatus.CONFLICT, "another agent is connected as \"" + host + "\"");
    }
    attributes.put("host", host);
    attributes.put("instance", instance);
    return true;
  }

  private static boolean refuse(ServerHttpResponse response, HttpStatus status, String reason) {
    response.setStatusCode(status);
    response.getHeaders().set("Purser-Reason", reason);
    return false;
  }

  @Override
  public void afterHandshake(
      ServerHttpRequest request,
      ServerHttpResponse response,
      WebSocketHandler handler,
      Exception exception) {}
}
