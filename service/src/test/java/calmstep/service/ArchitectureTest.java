package calmstep.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noCodeUnits;

import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import jakarta.persistence.Entity;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.RestController;

@AnalyzeClasses(packages = "calmstep", importOptions = DoNotIncludeTests.class)
class ArchitectureTest {
    @ArchTest
    static final ArchRule ARROWS =
            noClasses()
                    .that()
                    .resideInAPackage("calmstep.dialect..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage("calmstep.service..", "org.springframework..");

    @ArchTest
    static final ArchRule ENTITIES_STAY_AT_HOME =
            classes().that().areAnnotatedWith(Entity.class).should().bePackagePrivate();

    @ArchTest
    static final ArchRule CONTROLLERS_STAY_AT_HOME =
            classes().that().areAnnotatedWith(RestController.class).should().bePackagePrivate();

    @ArchTest
    static final ArchRule ROLES_ARE_ASKED_WHERE_THEY_ARE_LOOKED_FOR =
            noCodeUnits()
                    .that()
                    .areDeclaredInClassesThat()
                    .areNotAnnotatedWith(RestController.class)
                    .should()
                    .beAnnotatedWith(PreAuthorize.class)
                    .because("it holds on the handlers of calls alone, see SecuritySetup");

    @ArchTest
    static final ArchRule ROLES_ARE_ASKED_BY_EACH_HANDLER =
            noClasses().should().beAnnotatedWith(PreAuthorize.class);

    @ArchTest
    static final ArchRule ONE_JSON =
            noClasses()
                    .should()
                    .dependOnClassesThat()
                    .resideInAPackage("com.fasterxml.jackson.databind..")
                    .because(
                            "Jackson 3 is in use; Jackson 2 comes along with the interface's"
                                    + " description only");

    @ArchTest
    static final ArchRule CLOCK_IS_INJECTED =
            noClasses()
                    .that()
                    .resideInAPackage("calmstep.service..")
                    .and()
                    .doNotHaveSimpleName("UnitTask")
                    .should()
                    .callMethod(java.time.Instant.class, "now")
                    .because("time comes from the injected clock");

    @ArchTest
    static final ArchRule STAND_INS_ARE_FOR_REHEARSALS =
            noClasses()
                    .that()
                    .resideInAPackage("calmstep.service..")
                    .and()
                    .resideOutsideOfPackage("calmstep.service.rehearsals..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAPackage("calmstep.practice..")
                    .because("what drives devices must not know that there are others");
}
