package calmstep.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;

/** The core computes: no framework, no database, no files, no sockets, no clock of its own. */
@AnalyzeClasses(
        packages = "calmstep.core",
        importOptions = com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {
    @ArchTest
    static final ArchRule COMPUTES_ONLY =
            noClasses()
                    .that()
                    .doNotHaveSimpleName("FormatSchema")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(
                            "org.springframework..",
                            "jakarta..",
                            "java.sql..",
                            "javax.sql..",
                            "java.io..",
                            "java.nio.file..",
                            "java.nio.channels..",
                            "tools.jackson..",
                            "com.fasterxml..")
                    .because(
                            "the core is plain computation; a schema comes as a tree of JSON and"
                                    + " lies beside the classes");

    @ArchTest
    static final ArchRule HAS_NO_CLOCK =
            noClasses()
                    .should()
                    .callMethod(java.time.Instant.class, "now")
                    .orShould()
                    .callMethod(java.time.LocalDate.class, "now")
                    .orShould()
                    .callMethod(System.class, "currentTimeMillis")
                    .orShould()
                    .callMethod(System.class, "nanoTime")
                    .because("time comes in as an argument");

    @ArchTest
    static final ArchRule HAS_NO_CIRCLES =
            SlicesRuleDefinition.slices().matching("calmstep.core.(*)..").should().beFreeOfCycles();
}
