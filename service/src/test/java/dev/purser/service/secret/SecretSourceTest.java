package dev.purser.service.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Connection;
import dev.purser.core.problem.NotUnderstood;
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
        "vault    | x                        | https://a.example | stands in a variable or a file",
        "variable | X                        | a.example         | is not an address",
        "variable | X                        | https://a b       | is not an address",
      })
  void whatCannotBeAllowedIsSaid(String kind, String name, String address, String said) {
    assertThatThrownBy(() -> SecretSource.of(kind, name, address))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(said);
  }

  @ParameterizedTest
  @CsvSource({"/run/key,,file", ",KEY,variable", ",,"})
  void aConnectionUsesOneSecretOrNone(String file, String variable, String kind) {
    Connection connection =
        new Connection(
            "c",
            "C",
            "https://a.example/x",
            "u",
            file == null ? "" : file,
            variable == null ? "" : variable,
            "",
            "");
    assertThat(SecretSource.of(connection).map(SecretSource::kind).orElse(null)).isEqualTo(kind);
  }
}
