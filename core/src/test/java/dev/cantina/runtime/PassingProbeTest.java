package dev.cantina.runtime;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;

import java.lang.reflect.Method;
import org.junit.jupiter.api.Test;

class PassingProbeTest {
    @Test
    void allThatAProbeHearsIsHandedOn() {
        for (Method method : Probe.class.getMethods()) {
            assertDoesNotThrow(
                    () ->
                            PassingProbe.class.getDeclaredMethod(
                                    method.getName(), method.getParameterTypes()),
                    "not handed on: " + method);
        }
    }
}
