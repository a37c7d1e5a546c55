package calmstep.service.problems;

import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
import org.springframework.transaction.CannotCreateTransactionException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;

/** Every refusal as a problem, with the same fields. */
@RestControllerAdvice
class ProblemAnswers extends ResponseEntityExceptionHandler {
    private static final Logger LOG = LoggerFactory.getLogger(ProblemAnswers.class);

    @ExceptionHandler
    ProblemDetail refused(Refusal refusal) {
        return problem(refusal.status(), String.valueOf(refusal.getMessage()), refusal.details());
    }

    @ExceptionHandler
    ProblemDetail rejected(RejectedText rejected) {
        int count = rejected.complaints().size();
        return problem(
                HttpStatus.UNPROCESSABLE_CONTENT,
                "The file was refused, nothing of it was taken over: %s."
                        .formatted(count == 1 ? "one thing is wrong" : count + " things are wrong"),
                rejected.complaints().stream().map(Complaint::toString).toList());
    }

    @ExceptionHandler
    ProblemDetail changedMeanwhile(OptimisticLockingFailureException changed) {
        return problem(
                HttpStatus.CONFLICT,
                "Somebody else changed it meanwhile. Read it again and repeat.",
                List.of());
    }

    @ExceptionHandler({
        CannotCreateTransactionException.class,
        DataAccessResourceFailureException.class
    })
    ProblemDetail storeGone(Exception gone) {
        return problem(
                HttpStatus.SERVICE_UNAVAILABLE,
                "The database does not answer. Nothing was changed; what is under way goes on when"
                        + " it is back. Look at PostgreSQL.",
                List.of());
    }

    @ExceptionHandler
    ProblemDetail unforeseen(Exception failed) {
        if (failed instanceof org.springframework.security.access.AccessDeniedException) {
            return problem(
                    HttpStatus.FORBIDDEN,
                    "Your role does not allow this. Ask an admin for another role.",
                    List.of());
        }
        LOG.error("A call failed for a reason of our own", failed);
        return problem(
                HttpStatus.INTERNAL_SERVER_ERROR,
                "A fault of the service itself: %s. Its log has more."
                        .formatted(failed.getClass().getSimpleName()),
                List.of());
    }

    private static ProblemDetail problem(HttpStatus status, String sentence, List<String> details) {
        ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, sentence);
        problem.setTitle(sentence);
        if (!details.isEmpty()) {
            problem.setProperty("details", details);
        }
        return problem;
    }
}
