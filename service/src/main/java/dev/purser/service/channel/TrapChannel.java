package dev.purser.service.channel;

import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Way;
import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import java.io.IOException;
import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.Arrays;
import org.snmp4j.CommunityTarget;
import org.snmp4j.PDU;
import org.snmp4j.ScopedPDU;
import org.snmp4j.Snmp;
import org.snmp4j.Target;
import org.snmp4j.UserTarget;
import org.snmp4j.event.ResponseEvent;
import org.snmp4j.mp.MPv3;
import org.snmp4j.mp.SnmpConstants;
import org.snmp4j.security.AuthHMAC192SHA256;
import org.snmp4j.security.PrivAES128;
import org.snmp4j.security.SecurityLevel;
import org.snmp4j.security.SecurityModels;
import org.snmp4j.security.SecurityProtocols;
import org.snmp4j.security.USM;
import org.snmp4j.security.UsmUser;
import org.snmp4j.smi.Integer32;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.TimeTicks;
import org.snmp4j.smi.UdpAddress;
import org.snmp4j.smi.UnsignedInteger32;
import org.snmp4j.smi.Variable;
import org.snmp4j.smi.VariableBinding;
import org.snmp4j.transport.DefaultUdpTransportMapping;
import org.springframework.stereotype.Component;

/**
 * SNMP notifications of our own MIB (docs/mib/PURSER-MIB.mib). They are sent as informs, which the
 * receiver confirms: a trap that nobody confirms would be lost without anybody knowing.
 */
@Component
class TrapChannel implements Channel {
  private static final long TIMEOUT_MILLIS = 2_000;
  private static final int TRIES_MORE = 2;
  private static final int LONGEST = 1_000;
  private static final int LEAST_SECRET = 8;
  private static final int ALERT = 1;
  private static final int OVER = 2;
  private static final int TEST = 3;
  private static final int DIGEST = 4;

  private final Settings settings;
  private final NamedSecrets secrets;
  private final Reachable reachable;
  private final long began = System.nanoTime();

  TrapChannel(Settings settings, NamedSecrets secrets, Reachable reachable) {
    this.settings = settings;
    this.secrets = secrets;
    this.reachable = reachable;
  }

  @Override
  public String name() {
    return "traps";
  }

  @Override
  public String deliver(Message message, Way way) throws DeliveryFailed {
    int colon = way.address().lastIndexOf(':');
    String host = way.address().substring(0, colon);
    int port = Integer.parseInt(way.address().substring(colon + 1));
    reachable.check(host, port);
    boolean third = way.option("version").equals("v3");
    try (Snmp snmp = new Snmp(new DefaultUdpTransportMapping())) {
      Target<UdpAddress> target = third ? user(snmp, way) : community(way);
      target.setAddress(new UdpAddress(InetAddress.getByName(host), port));
      target.setTimeout(TIMEOUT_MILLIS);
      target.setRetries(TRIES_MORE);
      snmp.listen();
      PDU pdu = third ? new ScopedPDU() : new PDU();
      pdu.setType(PDU.INFORM);
      fill(pdu, message);
      ResponseEvent<UdpAddress> answer = snmp.send(pdu, target);
      return confirmed(answer, way);
    } catch (IOException e) {
      throw new DeliveryFailed("cannot send to " + way.address() + ": " + e.getMessage(), e);
    }
  }

  private static String confirmed(ResponseEvent<UdpAddress> answer, Way way) throws DeliveryFailed {
    PDU response = answer == null ? null : answer.getResponse();
    if (response == null) {
      throw new DeliveryFailed(
          way.address()
              + " has confirmed nothing: it is away, or does not know the community or user",
          null);
    }
    if (response.getType() == PDU.REPORT) {
      throw new DeliveryFailed(
          way.address() + " does not accept it: " + response.getVariableBindings(), null);
    }
    if (response.getErrorStatus() != PDU.noError) {
      throw new DeliveryFailed(way.address() + " answers " + response.getErrorStatusText(), null);
    }
    return "the receiver has confirmed it";
  }

  private Target<UdpAddress> community(Way way) throws DeliveryFailed {
    String named = way.option("community");
    CommunityTarget<UdpAddress> target = new CommunityTarget<>();
    target.setCommunity(new OctetString(named.isEmpty() ? "public" : secrets.of(named)));
    target.setVersion(SnmpConstants.version2c);
    return target;
  }

  private Target<UdpAddress> user(Snmp snmp, Way way) throws DeliveryFailed {
    OctetString name = new OctetString(way.option("user"));
    boolean signed = !way.option("signed-by").isEmpty();
    boolean sealed = !way.option("sealed-by").isEmpty();
    SecurityProtocols protocols = new SecurityProtocols(SecurityProtocols.SecurityProtocolSet.none);
    protocols.addAuthenticationProtocol(new AuthHMAC192SHA256());
    protocols.addPrivacyProtocol(new PrivAES128());
    OctetString engine = new OctetString(MPv3.createLocalEngineID());
    USM usm = new USM(protocols, engine, 0);
    usm.addUser(
        new UsmUser(
            name,
            signed ? AuthHMAC192SHA256.ID : null,
            signed ? secret(way, "signed-by") : null,
            sealed ? PrivAES128.ID : null,
            sealed ? secret(way, "sealed-by") : null));
    SecurityModels models = new SecurityModels();
    models.addSecurityModel(usm);
    MPv3 third = (MPv3) snmp.getMessageProcessingModel(MPv3.ID);
    third.setSecurityModels(models);
    third.setSecurityProtocols(protocols);
    UserTarget<UdpAddress> target = new UserTarget<>();
    target.setVersion(SnmpConstants.version3);
    target.setSecurityName(name);
    target.setSecurityLevel(
        sealed
            ? SecurityLevel.AUTH_PRIV
            : signed ? SecurityLevel.AUTH_NOPRIV : SecurityLevel.NOAUTH_NOPRIV);
    return target;
  }

  private OctetString secret(Way way, String key) throws DeliveryFailed {
    String text = secrets.of(way.option(key));
    if (text.length() < LEAST_SECRET) {
      throw new DeliveryFailed(
          "the secret \"" + way.option(key) + "\" needs " + LEAST_SECRET + " characters", null);
    }
    return new OctetString(text);
  }

  private void fill(PDU pdu, Message message) {
    OID root = new OID("1.3.6.1.4.1").append(settings.snmpNumber());
    int what =
        switch (message.what()) {
          case "test" -> TEST;
          case "digest" -> DIGEST;
          default -> message.step().equals("closed") ? OVER : ALERT;
        };
    long hundredths = (System.nanoTime() - began) / 10_000_000;
    pdu.add(new VariableBinding(SnmpConstants.sysUpTime, new TimeTicks(hundredths)));
    pdu.add(new VariableBinding(SnmpConstants.snmpTrapOID, new OID(root).append(0).append(what)));
    Variable[] values = {
      new UnsignedInteger32(message.alert() & 0xffffffffL),
      text(message.kind()),
      new Integer32(Urgency.of(message.urgency()).orElse(Urgency.WARNING).ordinal() + 1),
      text(message.title()),
      text(message.text()),
      text(message.about()),
      text(message.link()),
      new UnsignedInteger32(message.count()),
      time(message.at()),
      text(message.id())
    };
    for (int i = 0; i < values.length; i++) {
      OID name = new OID(root).append(1).append(i + 1).append(0);
      pdu.add(new VariableBinding(name, values[i]));
    }
  }

  /** UTF-8, cut between characters. */
  private static OctetString text(String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    int end = Math.min(bytes.length, LONGEST);
    while (end > 0 && end < bytes.length && (bytes[end] & 0xc0) == 0x80) {
      end--;
    }
    return new OctetString(Arrays.copyOf(bytes, end));
  }

  /** As DateAndTime of SNMPv2-TC. */
  private static OctetString time(Instant at) {
    ZonedDateTime utc = at.atZone(ZoneOffset.UTC);
    return new OctetString(
        new byte[] {
          (byte) (utc.getYear() >> 8),
          (byte) utc.getYear(),
          (byte) utc.getMonthValue(),
          (byte) utc.getDayOfMonth(),
          (byte) utc.getHour(),
          (byte) utc.getMinute(),
          (byte) utc.getSecond(),
          (byte) (utc.getNano() / 100_000_000),
          '+',
          0,
          0
        });
  }
}
