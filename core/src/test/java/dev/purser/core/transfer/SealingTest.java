package dev.purser.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SealingTest {
  @ParameterizedTest
  @CsvSource({
    "/k, '', '', '', a.csv,     a.csv.pgp",
    "'', k,  '', '', a.csv.pgp, a.csv.pgp.pgp",
    "'', '', k,  '', a.csv.pgp, a.csv",
    "'', '', k,  '', a.csv.gpg, a.csv",
    "'', '', '', /k, a.asc,     a",
    "'', '', k,  '', a.csv,     a.csv",
    "'', '', k,  '', .pgp,      ''",
    "'', '', '', '', a.pgp,     a.pgp"
  })
  void theNameSaysWhetherItIsSealed(
      String encryptFor, String sign, String decrypt, String signedBy, String name, String then) {
    assertThat(new Sealing(encryptFor, sign, decrypt, signedBy).nameOf(name)).isEqualTo(then);
  }
}
