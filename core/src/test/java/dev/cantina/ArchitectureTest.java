package dev.cantina;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import dev.cantina.agree.NativeServer;
import dev.cantina.database.ServerKind;
import dev.cantina.importing.LiveServer;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.ship.Server;
import dev.cantina.translate.ServerLanguage;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class ArchitectureTest {
    /** From the ground up: an import runs only downward. */
    private static final List<String> ROOMS =
            List.of(
                    "syntax",
                    "types",
                    "catalog",
                    "binding",
                    "facts",
                    "advice",
                    "runtime",
                    "database",
                    "hosting",
                    "nativecode",
                    "translate",
                    "project",
                    "importing",
                    "programs",
                    "racing",
                    "observe",
                    "debugging",
                    "testing",
                    "ship",
                    "agree",
                    "report",
                    "editing",
                    "drafting",
                    "laboratory",
                    "relations",
                    "workbench");

    private static final JavaClasses CORE =
            new ClassFileImporter()
                    .withImportOption(new ImportOption.DoNotIncludeTests())
                    .importPackages("dev.cantina");

    static List<String> rooms() {
        return ROOMS;
    }

    @ParameterizedTest
    @MethodSource("rooms")
    void aRoomImportsOnlyRoomsBelowIt(String room) {
        String[] above =
                ROOMS.subList(ROOMS.indexOf(room) + 1, ROOMS.size()).stream()
                        .map(name -> "dev.cantina." + name + "..")
                        .toArray(String[]::new);
        if (above.length > 0) {
            noClasses()
                    .that()
                    .resideInAPackage("dev.cantina." + room + "..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(above)
                    .allowEmptyShould(true)
                    .check(CORE);
        }
    }

    /** What is advised is a guess, and nothing is compiled or translated by one. */
    @Test
    void adviceIsImportedOnlyByWhatChecks() {
        noClasses()
                .that()
                .resideOutsideOfPackages(
                        "dev.cantina.advice..", "dev.cantina.project..", "dev.cantina.editing..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("dev.cantina.advice..")
                .check(CORE);
    }

    @Test
    void theCoreHasNoInterfaceCode() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("dev.cantina.cli..", "org.jline..", "org.apache.commons.cli..")
                .check(CORE);
    }

    /** A server is its own rooms, and a line in each of these lists. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void aServerIsKnownInItsOwnRoomsAlone(String server) {
        noClasses()
                .that()
                .resideOutsideOfPackage("dev.cantina.." + server + "..")
                .and()
                .doNotBelongToAnyOf(
                        ServerKind.class,
                        ServerLanguage.class,
                        Server.class,
                        ServerCode.class,
                        LiveServer.class,
                        NativeServer.class)
                .should()
                .dependOnClassesThat()
                .resideInAPackage("dev.cantina.." + server + "..")
                .check(CORE);
    }

    /** SQL is read by the parser, and judged by its trees: never by patterns over its text. */
    @Test
    void noPatternJudgesSql() {
        noClasses()
                .that()
                .resideInAnyPackage(
                        "dev.cantina.syntax..",
                        "dev.cantina.binding..",
                        "dev.cantina.facts..",
                        "dev.cantina.advice..",
                        "dev.cantina.database.mariadb..",
                        "dev.cantina.database.postgresql..",
                        "dev.cantina.translate..")
                .and()
                .doNotHaveSimpleName("DeclarationParser")
                // What a server says of itself and of errors is no SQL.
                .and()
                .doNotHaveSimpleName("MariaCatalog")
                .and()
                .doNotHaveSimpleName("MariaConditions")
                // To go: the text of a whole routine while it is written.
                .and()
                .doNotHaveSimpleName("PostgresBody")
                .and()
                .doNotHaveSimpleName("PostgresData")
                .and()
                .doNotHaveSimpleName("PostgresSignature")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("java.util.regex..")
                .check(CORE);
    }

    @Test
    void onlyItsRoomKnowsTheEmbeddedEngine() {
        noClasses()
                .that()
                .resideOutsideOfPackage("dev.cantina.database.embedded..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("org.h2..")
                .check(CORE);
    }
}
