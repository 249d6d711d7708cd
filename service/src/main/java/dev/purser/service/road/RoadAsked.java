package dev.purser.service.road;

import dev.purser.wire.agent.ToAgent;

/**
 * An agent is to be asked to reach something.
 *
 * @param host whose agent
 */
public record RoadAsked(String host, ToAgent.Reach message) {}
