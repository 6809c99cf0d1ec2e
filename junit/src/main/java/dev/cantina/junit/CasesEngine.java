package dev.cantina.junit;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import java.nio.file.Path;
import java.time.Clock;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.platform.commons.support.ReflectionSupport;
import org.junit.platform.engine.EngineDiscoveryRequest;
import org.junit.platform.engine.EngineExecutionListener;
import org.junit.platform.engine.ExecutionRequest;
import org.junit.platform.engine.TestDescriptor;
import org.junit.platform.engine.TestEngine;
import org.junit.platform.engine.TestExecutionResult;
import org.junit.platform.engine.UniqueId;
import org.junit.platform.engine.discovery.ClassSelector;
import org.junit.platform.engine.discovery.ClasspathRootSelector;
import org.junit.platform.engine.discovery.PackageSelector;
import org.junit.platform.engine.discovery.UniqueIdSelector;
import org.junit.platform.engine.support.descriptor.EngineDescriptor;

/** Finds classes with {@link Cases}, and runs the cases of their projects in their place. */
public final class CasesEngine implements TestEngine {
    static final String ID = "cantina";

    @Override
    public String getId() {
        return ID;
    }

    @Override
    public TestDescriptor discover(EngineDiscoveryRequest request, UniqueId id) {
        EngineDescriptor engine = new EngineDescriptor(id, "Cantina");
        Set<Class<?>> classes = new LinkedHashSet<>();
        request.getSelectorsByType(ClassSelector.class)
                .forEach(s -> add(classes, s.getJavaClass()));
        for (ClasspathRootSelector root : request.getSelectorsByType(ClasspathRootSelector.class)) {
            classes.addAll(
                    ReflectionSupport.findAllClassesInClasspathRoot(
                            root.getClasspathRoot(), CasesEngine::isMarked, name -> true));
        }
        for (PackageSelector one : request.getSelectorsByType(PackageSelector.class)) {
            classes.addAll(
                    ReflectionSupport.findAllClassesInPackage(
                            one.getPackageName(), CasesEngine::isMarked, name -> true));
        }
        Set<UniqueId> wanted = new LinkedHashSet<>();
        for (UniqueIdSelector selector : request.getSelectorsByType(UniqueIdSelector.class)) {
            UniqueId chosen = selector.getUniqueId();
            if (chosen.hasPrefix(id)) {
                wanted.add(chosen);
                chosen.getSegments().stream()
                        .filter(s -> s.getType().equals(CasesDescriptor.CLASS))
                        .forEach(
                                s ->
                                        ReflectionSupport.tryToLoadClass(s.getValue())
                                                .ifSuccess(c -> add(classes, c)));
            }
        }
        for (Class<?> type : classes) {
            engine.addChild(suite(id, type));
        }
        boolean some =
                !wanted.isEmpty() && request.getSelectorsByType(ClassSelector.class).isEmpty();
        if (some) {
            keep(engine, wanted);
        }
        return engine;
    }

    private static boolean isMarked(Class<?> type) {
        return type.isAnnotationPresent(Cases.class);
    }

    private static void add(Set<Class<?>> classes, Class<?> type) {
        if (isMarked(type)) {
            classes.add(type);
        }
    }

    /** Leaves only what is wanted, what it stands in, and what stands in it. */
    private static void keep(TestDescriptor from, Set<UniqueId> wanted) {
        for (TestDescriptor child : Set.copyOf(from.getChildren())) {
            UniqueId id = child.getUniqueId();
            boolean whole = wanted.stream().anyMatch(id::hasPrefix);
            boolean part = wanted.stream().anyMatch(w -> w.hasPrefix(id));
            if (!whole && !part) {
                from.removeChild(child);
            } else if (!whole) {
                keep(child, wanted);
            }
        }
    }

    private static CasesDescriptor suite(UniqueId engine, Class<?> type) {
        Cases cases = type.getAnnotation(Cases.class);
        CasesDescriptor suite = CasesDescriptor.ofClass(engine, type);
        try {
            Project project = ProjectReader.read(Path.of(cases.project()));
            CaseFiles.Found found = CaseFiles.read(project);
            Selector selector = new Selector(List.of(cases.select()));
            for (CaseResult broken : found.broken()) {
                if (selector.selects(broken.testCase())) {
                    suite.file(project, broken.testCase()).broken(project, broken);
                }
            }
            for (TestCase testCase : found.cases()) {
                if (selector.selects(testCase)) {
                    suite.file(project, testCase).testCase(project, testCase);
                }
            }
        } catch (ProjectException e) {
            suite.unreadable(e);
        }
        return suite;
    }

    @Override
    public void execute(ExecutionRequest request) {
        EngineExecutionListener listener = request.getEngineExecutionListener();
        TestDescriptor engine = request.getRootTestDescriptor();
        listener.executionStarted(engine);
        for (TestDescriptor suite : engine.getChildren()) {
            suite((CasesDescriptor) suite, listener);
        }
        listener.executionFinished(engine, TestExecutionResult.successful());
    }

    private static void suite(CasesDescriptor suite, EngineExecutionListener listener) {
        listener.executionStarted(suite);
        if (suite.unreadable().isPresent()) {
            listener.executionFinished(suite, TestExecutionResult.failed(suite.unreadable().get()));
            return;
        }
        try {
            Project project =
                    ProjectReader.read(Path.of(suite.type().getAnnotation(Cases.class).project()));
            try (CaseRunner runner =
                    new CaseRunner(
                            project,
                            Optional.empty(),
                            project.limits(),
                            Clock.systemDefaultZone())) {
                for (TestDescriptor file : suite.getChildren()) {
                    listener.executionStarted(file);
                    for (TestDescriptor one : file.getChildren()) {
                        testCase((CasesDescriptor) one, runner, listener);
                    }
                    listener.executionFinished(file, TestExecutionResult.successful());
                }
            }
            listener.executionFinished(suite, TestExecutionResult.successful());
        } catch (ProjectException e) {
            listener.executionFinished(suite, TestExecutionResult.failed(e));
        }
    }

    private static void testCase(
            CasesDescriptor one, CaseRunner runner, EngineExecutionListener listener) {
        if (one.testCase().isPresent() && one.testCase().get().skip().isPresent()) {
            listener.executionSkipped(one, one.testCase().get().skip().get());
            return;
        }
        listener.executionStarted(one);
        CaseResult result = one.broken().orElseGet(() -> runner.run(one.testCase().orElseThrow()));
        listener.executionFinished(one, Verdicts.of(result));
    }
}
