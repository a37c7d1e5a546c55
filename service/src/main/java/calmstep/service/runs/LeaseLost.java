package calmstep.service.runs;

/** Another driver has taken the device over; this one stops at once. */
final class LeaseLost extends RuntimeException {
    LeaseLost(String device, long fence) {
        super(
                "The lease on %s with fence %s was taken over; this driver stops"
                        .formatted(device, fence));
    }
}
