package dev.cantina.catalog;

import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Unit.Mode;
import dev.cantina.types.SqlType;
import java.util.Optional;

/** A parameter with its type resolved. */
public record ParameterSymbol(Name name, Mode mode, SqlType type, Optional<Expression> initial) {}
