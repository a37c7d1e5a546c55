package calmstep.service.web;

import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverter;
import io.swagger.v3.core.converter.ModelConverterContext;
import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.media.Schema;
import java.lang.reflect.RecordComponent;
import java.util.Iterator;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/**
 * Says in the interface's description which fields are always there: every component of a record
 * that is not marked nullable. So the console's types, which are made from the description, know it
 * too.
 */
@Component
class RequiredFields implements ModelConverter {
    /**
     * The type comes as a class, or as a type of the describing library whose name holds the
     * class's.
     */
    private static final Pattern OURS = Pattern.compile("calmstep\\.[\\w.$]+");

    @Override
    public @Nullable Schema<?> resolve(
            AnnotatedType type, ModelConverterContext context, Iterator<ModelConverter> chain) {
        if (!chain.hasNext()) {
            return null;
        }
        Schema<?> schema = chain.next().resolve(type, context, chain);
        if (schema != null) {
            recordOf(type).ifPresent(record -> require(described(schema, context), record));
        }
        return schema;
    }

    private static Schema<?> described(Schema<?> schema, ModelConverterContext context) {
        String reference = schema.get$ref();
        Schema<?> defined =
                reference == null
                        ? null
                        : context.getDefinedModels()
                                .get(
                                        reference.substring(
                                                Components.COMPONENTS_SCHEMAS_REF.length()));
        return defined == null ? schema : defined;
    }

    private static Optional<Class<?>> recordOf(AnnotatedType type) {
        Matcher name = OURS.matcher(type.getType().getTypeName());
        try {
            return name.find()
                    ? Optional.<Class<?>>of(Class.forName(name.group())).filter(Class::isRecord)
                    : Optional.empty();
        } catch (ClassNotFoundException notAClass) {
            return Optional.empty();
        }
    }

    private static void require(Schema<?> schema, Class<?> record) {
        for (RecordComponent component : record.getRecordComponents()) {
            boolean known =
                    schema.getProperties() != null
                            && schema.getProperties().containsKey(component.getName());
            boolean nullable =
                    component.getAnnotatedType().isAnnotationPresent(Nullable.class)
                            || component.getType() == Optional.class;
            if (known
                    && !nullable
                    && (schema.getRequired() == null
                            || !schema.getRequired().contains(component.getName()))) {
                schema.addRequiredItem(component.getName());
            }
        }
    }
}
