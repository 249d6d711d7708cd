package dev.purser.outside;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.Collectors;
import org.snmp4j.CommandResponderEvent;
import org.snmp4j.MessageException;
import org.snmp4j.PDU;
import org.snmp4j.Snmp;
import org.snmp4j.mp.StatusInformation;
import org.snmp4j.smi.UdpAddress;
import org.snmp4j.transport.DefaultUdpTransportMapping;

/** A stand-in for a monitor: takes SNMP v2c informs on loopback, and confirms them. */
public final class TrapSink implements AutoCloseable {
  private static final int MOST = 200;

  private final List<Trap> traps = new CopyOnWriteArrayList<>();
  private final Snmp snmp;
  private final int port;

  /** A trap that came in, with its variables a line each. */
  public record Trap(Instant at, String text) {}

  /**
   * Opens it.
   *
   * @param port 0 for any
   */
  public TrapSink(int port) throws IOException {
    DefaultUdpTransportMapping udp =
        new DefaultUdpTransportMapping(new UdpAddress("127.0.0.1/" + port));
    snmp = new Snmp(udp);
    snmp.addCommandResponder(this::take);
    snmp.listen();
    this.port = udp.getListenAddress().getPort();
  }

  private <A extends org.snmp4j.smi.Address> void take(CommandResponderEvent<A> event) {
    PDU pdu = event.getPDU();
    if (pdu == null) {
      return;
    }
    traps.add(
        new Trap(
            Instant.now(),
            pdu.getVariableBindings().stream()
                .map(one -> one.getOid() + " = " + one.getVariable())
                .collect(Collectors.joining("\n"))));
    if (traps.size() > MOST) {
      traps.remove(0);
    }
    if (pdu.getType() == PDU.INFORM) {
      confirm(event, pdu);
    }
    event.setProcessed(true);
  }

  private static <A extends org.snmp4j.smi.Address> void confirm(
      CommandResponderEvent<A> event, PDU pdu) {
    PDU answer = new PDU(pdu);
    answer.setType(PDU.RESPONSE);
    answer.setErrorStatus(PDU.noError);
    answer.setErrorIndex(0);
    try {
      event
          .getMessageDispatcher()
          .returnResponsePdu(
              event.getMessageProcessingModel(),
              event.getSecurityModel(),
              event.getSecurityName(),
              event.getSecurityLevel(),
              answer,
              event.getMaxSizeResponsePDU(),
              event.getStateReference(),
              new StatusInformation());
    } catch (MessageException e) {
      throw new IllegalStateException("cannot confirm", e); // whoever sent it sends it again
    }
  }

  /** The port that it listens on. */
  public int port() {
    return port;
  }

  /** Traps so far, in the order in which they came. */
  public List<Trap> traps() {
    return List.copyOf(traps);
  }

  @Override
  public void close() throws IOException {
    snmp.close();
  }
}
