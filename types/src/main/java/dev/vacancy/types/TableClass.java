package dev.vacancy.types;

import com.palantir.javapoet.ArrayTypeName;
import com.palantir.javapoet.ClassName;
import com.palantir.javapoet.CodeBlock;
import com.palantir.javapoet.FieldSpec;
import com.palantir.javapoet.MethodSpec;
import com.palantir.javapoet.ParameterizedTypeName;
import com.palantir.javapoet.TypeName;
import com.palantir.javapoet.TypeSpec;
import com.palantir.javapoet.WildcardTypeName;
import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ValueType;
import java.util.Collection;
import java.util.List;
import javax.lang.model.element.Modifier;

/** The class of one table. */
final class TableClass {
    private final Catalog catalog;
    private final Table table;
    private final ClassName type;
    private final Identifiers members = new Identifiers();

    TableClass(Catalog catalog, Table table, String name) {
        this.catalog = catalog;
        this.table = table;
        this.type = ClassName.get("", name);
    }

    TypeSpec spec() {
        TypeSpec.Builder spec = TypeSpec.classBuilder(type)
                .addModifiers(Modifier.PUBLIC, Modifier.FINAL)
                .addJavadoc("The table {@code $L}.\n", shown(table.name()))
                .addField(itself());
        table.columns().stream()
                .filter(column -> !column.name().contains(".")) // a full stop leads to a parent
                .forEach(column -> spec.addField(column(column)));
        catalog.linksFrom(table).stream()
                .filter(link -> link.childColumns().size() > 1)
                .forEach(link -> spec.addField(link(link)));
        spec.addMethod(
                MethodSpec.constructorBuilder().addModifiers(Modifier.PRIVATE).build());
        spec.addMethod(name());
        if (!table.identity().isEmpty()) {
            spec.addMethod(key()).addMethod(keys());
        }
        return spec.addMethod(where()).addMethod(allRecords()).build();
    }

    /** The one object of the class. Its name is given out first, so that a column of the same name takes another. */
    private FieldSpec itself() {
        return FieldSpec.builder(type, members.unique(Identifiers.constant(table.name()), ""))
                .addModifiers(Modifier.PUBLIC, Modifier.STATIC, Modifier.FINAL)
                .addJavadoc("The table.\n")
                .initializer("new $T()", type)
                .build();
    }

    private FieldSpec column(Column column) {
        TypeName values = TypeName.get(ValueType.of(column));
        String name = table.name() + "." + column.name();
        CodeBlock start = values.equals(ClassName.OBJECT)
                ? CodeBlock.of("$T.column($S)", Criteria.class, name)
                : CodeBlock.of("$T.column($S, $T.class)", Criteria.class, name, values);
        return FieldSpec.builder(
                        ParameterizedTypeName.get(ClassName.get(ColumnCriteria.class), values),
                        members.unique(Identifiers.constant(column.name()), ""))
                .addModifiers(Modifier.PUBLIC, Modifier.FINAL)
                .addJavadoc("{@code $L}: $L.\n", shown(name), meaning(column))
                .initializer(start)
                .build();
    }

    private String meaning(Column column) {
        List<String> parents = catalog.linksFrom(table).stream()
                .filter(link -> link.childColumns().equals(List.of(column)))
                .map(link -> ", refers to {@code " + shown(link.parent().name()) + "}")
                .toList();
        return shown(column.typeName())
                + (column.nullable() ? "" : ", not null")
                + (column.generated() ? ", computed by the database" : "")
                + String.join("", parents);
    }

    private FieldSpec link(Link link) {
        String columns =
                String.join("_", link.childColumns().stream().map(Column::name).toList());
        return FieldSpec.builder(String.class, members.unique(Identifiers.constant(columns), "_LINK"))
                .addModifiers(Modifier.PUBLIC, Modifier.FINAL)
                .addJavadoc(
                        "The link to {@code $L}, for rules.\n",
                        shown(link.parent().name()))
                .initializer("$S", link.where())
                .build();
    }

    private MethodSpec name() {
        return MethodSpec.methodBuilder("name")
                .addModifiers(Modifier.PUBLIC)
                .addJavadoc("{@return the table's name, for rules}\n")
                .returns(String.class)
                .addStatement("return $S", table.name())
                .build();
    }

    private MethodSpec key() {
        MethodSpec.Builder method = MethodSpec.methodBuilder("key")
                .addModifiers(Modifier.PUBLIC)
                .addJavadoc("Selects one record.\n\n")
                .returns(Selection.class);
        Identifiers parameters = new Identifiers();
        CodeBlock.Builder values = CodeBlock.builder();
        for (Column column : table.identity()) {
            TypeName given = TypeName.get(ValueType.of(column));
            String name = parameters.unique(Identifiers.parameter(column.name()), "");
            method.addParameter(given.isBoxedPrimitive() ? given.unbox() : given, name);
            method.addJavadoc("@param $L its {@code $L}\n", name, shown(column.name()));
            // An array of objects or bytes would be taken for the values themselves.
            values.add(values.isEmpty() ? "" : ", ").add(given instanceof ArrayTypeName ? "(Object) $N" : "$N", name);
        }
        return method.addJavadoc("@return the selection\n")
                .addStatement("return $T.of(name()).key($L)", Selection.class, values.build())
                .build();
    }

    private MethodSpec keys() {
        List<Column> identity = table.identity();
        TypeName one = identity.size() == 1
                ? TypeName.get(ValueType.of(identity.get(0)))
                : ParameterizedTypeName.get(ClassName.get(List.class), WildcardTypeName.subtypeOf(ClassName.OBJECT));
        return MethodSpec.methodBuilder("keys")
                .addModifiers(Modifier.PUBLIC)
                .addJavadoc(
                        "Selects several records.\n\n@param keys $L; none is refused when it comes to a plan\n@return the selection\n",
                        identity.size() == 1 ? "their keys" : "the values of each, in the order of the key's columns")
                .addParameter(
                        ParameterizedTypeName.get(ClassName.get(Collection.class), WildcardTypeName.subtypeOf(one)),
                        "keys")
                .returns(Selection.class)
                .addStatement("return $T.of(name()).keys(keys)", Selection.class)
                .build();
    }

    private MethodSpec where() {
        return MethodSpec.methodBuilder("where")
                .addModifiers(Modifier.PUBLIC)
                .addJavadoc(
                        "Selects the records that meet a criteria.\n\n@param criteria on columns of this table and of its parents\n@return the selection\n")
                .addParameter(Criteria.class, "criteria")
                .returns(Selection.class)
                .addStatement("return $T.of(name()).where(criteria)", Selection.class)
                .build();
    }

    private MethodSpec allRecords() {
        return MethodSpec.methodBuilder("allRecords")
                .addModifiers(Modifier.PUBLIC)
                .addJavadoc("Selects all records; nothing else means that.\n\n@return the selection\n")
                .returns(Selection.class)
                .addStatement("return $T.of(name()).allRecords()", Selection.class)
                .build();
    }

    /** A name of the database's in a comment, where nothing of it may end the comment or mean anything. */
    private static String shown(String name) {
        return name.replaceAll("[^\\p{L}\\p{Nd}_. ()]", "?");
    }
}
