package dev.cantina.junit;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.TestCase;
import java.io.File;
import java.util.Optional;
import org.junit.platform.engine.TestDescriptor;
import org.junit.platform.engine.TestSource;
import org.junit.platform.engine.UniqueId;
import org.junit.platform.engine.support.descriptor.AbstractTestDescriptor;
import org.junit.platform.engine.support.descriptor.ClassSource;
import org.junit.platform.engine.support.descriptor.FilePosition;
import org.junit.platform.engine.support.descriptor.FileSource;

/** A marked class, a case file of its project, or a case. */
final class CasesDescriptor extends AbstractTestDescriptor {
    static final String CLASS = "class";

    private final Type kind;
    private Class<?> type;
    private TestCase testCase;
    private CaseResult broken;
    private ProjectException unreadable;

    private CasesDescriptor(UniqueId id, String name, TestSource source, Type kind) {
        super(id, name, source);
        this.kind = kind;
    }

    static CasesDescriptor ofClass(UniqueId engine, Class<?> type) {
        CasesDescriptor suite =
                new CasesDescriptor(
                        engine.append(CLASS, type.getName()),
                        type.getSimpleName(),
                        ClassSource.from(type),
                        Type.CONTAINER);
        suite.type = type;
        return suite;
    }

    /** The file of a case, among the children of a class. */
    CasesDescriptor file(Project project, TestCase of) {
        UniqueId id = getUniqueId().append("file", of.file());
        for (TestDescriptor child : getChildren()) {
            if (child.getUniqueId().equals(id)) {
                return (CasesDescriptor) child;
            }
        }
        File file = project.root().resolve(of.file()).toFile();
        CasesDescriptor child =
                new CasesDescriptor(id, of.file(), FileSource.from(file), Type.CONTAINER);
        addChild(child);
        return child;
    }

    void testCase(Project project, TestCase one) {
        child(project, one).testCase = one;
    }

    void broken(Project project, CaseResult result) {
        child(project, result.testCase()).broken = result;
    }

    private CasesDescriptor child(Project project, TestCase one) {
        FilePosition place = FilePosition.from(one.place().line(), one.place().column());
        File file = project.root().resolve(one.file()).toFile();
        int number = getChildren().size();
        UniqueId id = getUniqueId().append("case", one.name());
        boolean taken = getChildren().stream().anyMatch(c -> c.getUniqueId().equals(id));
        CasesDescriptor child =
                new CasesDescriptor(
                        taken ? getUniqueId().append("case", one.name() + " (" + number + ")") : id,
                        one.name(),
                        FileSource.from(file, place),
                        Type.TEST);
        addChild(child);
        return child;
    }

    void unreadable(ProjectException e) {
        unreadable = e;
    }

    Optional<ProjectException> unreadable() {
        return Optional.ofNullable(unreadable);
    }

    Optional<TestCase> testCase() {
        return Optional.ofNullable(testCase);
    }

    Optional<CaseResult> broken() {
        return Optional.ofNullable(broken);
    }

    Class<?> type() {
        return type;
    }

    @Override
    public Type getType() {
        return kind;
    }

    @Override
    public boolean mayRegisterTests() {
        // A class whose project can't be read is told of as one that failed.
        return unreadable != null;
    }
}
