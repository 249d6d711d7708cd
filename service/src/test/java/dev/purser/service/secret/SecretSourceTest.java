package dev.purser.service.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Connection;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SecretSourceTest {
  /** What is behind scheme, host and port is one receiver; anything else is another. */
  @ParameterizedTest
  @CsvSource({
    "https://store.example,https://store.example:443",
    "https://STORE.example/a/b?c=d,https://store.example:443",
    "https://store.example:8443/,https://store.example:8443",
    "http://store.example,http://store.example:80",
    "sftp://store.example/in,sftp://store.example:22",
    "https://user@store.example,https://store.example:443"
  })
  void anAddressIsItsSchemeHostAndPort(String address, String origin) {
    assertThat(SecretSource.origin(address)).isEqualTo(origin);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "variable | PURSER_DATABASE_PASSWORD | https://a.example | is the service's own",
        "variable | PURSER_MAIL_PASSWORD     | https://a.example | is the service's own",
        "variable | A B                      | https://a.example | is not a valid name of a variable",
        "file     | secret                   | https://a.example | is not an absolute path",
        "vault    | x                        | https://a.example | is stored, or stands in a variable",
        "variable | X                        | a.example         | is not an address",
        "variable | X                        | https://a b       | is not an address",
      })
  void whatCannotBeAllowedIsSaid(String kind, String name, String address, String said) {
    assertThatThrownBy(() -> SecretSource.of(kind, name, address))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(said);
  }

  /** The secret of OAuth 2.0 goes to where tokens are had, and nowhere else. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "secret-file: /run/key                 | file /run/key for https://a.example:443",
        "secret-environment: KEY               | variable KEY for https://a.example:443",
        "secret: harbour-key                   | secret harbour-key for https://a.example:443",
        "secret: k, sign-in: oauth2, token-address: https://t.example/token"
            + " | secret k for https://t.example:443",
        "region: x                             | none"
      })
  void aConnectionUsesOneSecretOrNoneAndSendsItToOnePlace(String keys, String expected) {
    String text = "{ connection: c, user: u, address: https://a.example/x, " + keys + " }";
    DefinitionReader.Reading read = DefinitionReader.read(List.of(new SourceFile("c", text)));
    assertThat(read.problems()).isEmpty();
    Connection connection = (Connection) read.documents().get(0).value();
    assertThat(SecretSource.of(connection).map(SecretSource::inWords).orElse("none"))
        .isEqualTo(expected);
  }
}
