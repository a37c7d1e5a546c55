package calmstep.service.problems;

import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.RequestBodyAdviceAdapter;

/**
 * What a call needs and does not say is named, all of it at once: whatever its record does not call
 * nullable.
 */
@RestControllerAdvice
class MissingFields extends RequestBodyAdviceAdapter {
    @Override
    public boolean supports(
            MethodParameter parameter,
            Type type,
            Class<? extends HttpMessageConverter<?>> converter) {
        return parameter.getParameterType().isRecord();
    }

    @Override
    public Object afterBodyRead(
            Object body,
            HttpInputMessage message,
            MethodParameter parameter,
            Type type,
            Class<? extends HttpMessageConverter<?>> converter) {
        List<String> missing = missingOf(body);
        if (!missing.isEmpty()) {
            throw Refusal.wrong(
                    "Expected %s in what is sent with this call; it is not there."
                            .formatted(String.join(", ", missing)));
        }
        return body;
    }

    private static List<String> missingOf(Object body) {
        List<String> missing =
                Arrays.stream(body.getClass().getRecordComponents())
                        .filter(
                                part ->
                                        !part.getType().isPrimitive()
                                                && !part.getAnnotatedType()
                                                        .isAnnotationPresent(Nullable.class)
                                                && isMissing(body, part))
                        .map(part -> "\"%s\"".formatted(part.getName()))
                        .toList();
        return missing;
    }

    private static boolean isMissing(Object body, RecordComponent part) {
        try {
            part.getAccessor().setAccessible(true);
            return part.getAccessor().invoke(body) == null;
        } catch (ReflectiveOperationException closed) {
            throw new IllegalStateException(
                    "The part %s of %s cannot be read".formatted(part.getName(), body.getClass()),
                    closed);
        }
    }
}
