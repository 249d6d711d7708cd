package dev.purser.e2e;

import static com.tngtech.archunit.core.domain.JavaClass.Predicates.belongToAnyOf;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideOutsideOfPackages;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.time.Clock;

@AnalyzeClasses(packages = "dev.purser", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {
  @ArchTest
  static final ArchRule theCoreUsesNothingButTheJdkAndReadersOfFormats =
      classes()
          .that()
          .resideInAPackage("dev.purser.core..")
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "dev.purser.core..",
              "java..",
              "org.snakeyaml.engine..",
              "tools.jackson.core..",
              "org.dmfs..",
              "biweekly..",
              "com.cronutils..",
              "org.apache.commons.csv..");

  /** Readers of texts that libraries ask for, and the trouble that they say they could have. */
  private static final Class<?>[] IN_MEMORY = {
    StringReader.class, IOException.class, UncheckedIOException.class
  };

  @ArchTest
  static final ArchRule theCoreTouchesNoFilesNoNetworkNoDatabaseNoThread =
      noClasses()
          .that()
          .resideInAPackage("dev.purser.core..")
          .should()
          .dependOnClassesThat(
              resideInAnyPackage("java.io..", "java.nio.file..", "java.net..", "java.sql..")
                  .and(DescribedPredicate.not(belongToAnyOf(IN_MEMORY))))
          .orShould()
          .dependOnClassesThat()
          .areAssignableTo(Thread.class);

  @ArchTest
  static final ArchRule theCoreReadsNoSystemClock =
      noClasses()
          .that()
          .resideInAPackage("dev.purser.core..")
          .should()
          .dependOnClassesThat()
          .areAssignableTo(Clock.class)
          .orShould()
          .callMethod(System.class, "currentTimeMillis")
          .orShould()
          .callMethod(System.class, "nanoTime")
          .orShould()
          .callMethod(java.time.Instant.class, "now")
          .orShould()
          .callMethod(java.time.LocalDate.class, "now");

  @ArchTest
  static final ArchRule noTwoRoomsOfTheCoreNeedEachOther =
      slices().matching("dev.purser.core.(*)..").should().beFreeOfCycles();

  @ArchTest
  static final ArchRule noTwoRoomsOfTheServiceNeedEachOther =
      slices().matching("dev.purser.service.(*)..").should().beFreeOfCycles();

  @ArchTest
  static final ArchRule onlyTheRulesChangeTheCourse =
      noClasses()
          .that()
          .resideOutsideOfPackages(
              "dev.purser.core.course..",
              "dev.purser.core.rule..",
              "dev.purser.core.board..",
              "dev.purser.core.why..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("dev.purser.core.course..");

  @ArchTest
  static final ArchRule nobodyHasTheRulesButTheBoard =
      noClasses()
          .that()
          .resideOutsideOfPackages("dev.purser.core.rule..", "dev.purser.core.board..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("dev.purser.core.rule..");

  @ArchTest
  static final ArchRule noTwoRoomsOfTheApiNeedEachOther =
      slices().matching("dev.purser.service.api.(**)").should().beFreeOfCycles();

  @ArchTest
  static final ArchRule theWireIsRecordsThatKnowNobody =
      classes()
          .that()
          .resideInAPackage("dev.purser.wire..")
          .should()
          .onlyDependOnClassesThat()
          .resideInAnyPackage(
              "dev.purser.wire..",
              "java..",
              "javax.net.ssl..",
              "com.fasterxml.jackson.annotation..",
              "jakarta.validation..");

  @ArchTest
  static final ArchRule agentAndClientNeverKnowTheService =
      noClasses()
          .that()
          .resideInAnyPackage("dev.purser.agent..", "dev.purser.client..", "dev.purser.outside..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("dev.purser.service..");

  @ArchTest
  static final ArchRule theAgentKnowsTheWireAndHowFilesAreJudged =
      noClasses()
          .that()
          .resideInAPackage("dev.purser.agent..")
          .should()
          .dependOnClassesThat(
              resideInAnyPackage("dev.purser.core..", "dev.purser.client..")
                  .and(
                      resideOutsideOfPackages(
                          "dev.purser.core.arrival", "dev.purser.core.values")));

  @ArchTest
  static final ArchRule onlyTheApiTurnsRecordsIntoViews =
      noClasses()
          .that()
          .resideInAPackage("dev.purser.service..")
          .and()
          .resideOutsideOfPackage("dev.purser.service.api..")
          .should()
          .dependOnClassesThat()
          .resideInAPackage("dev.purser.wire.api..");
}
