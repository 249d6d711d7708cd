package dev.purser.service.start;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PlainHttpTest {
  @ParameterizedTest
  @CsvSource({
    "127.0.0.1,'',false",
    "::1,'',false",
    "0.0.0.0,'',true",
    "'','',true",
    "10.0.0.7,'',true",
    "10.0.0.7,10.0.0.1,false"
  })
  void whoCanBeHeardOnTheWayIsTold(String address, String proxies, boolean warned) {
    assertThat(PlainHttp.warning(address, proxies).isPresent()).isEqualTo(warned);
  }
}
