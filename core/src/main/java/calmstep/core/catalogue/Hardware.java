package calmstep.core.catalogue;

/** What a device is, as far as images are made for it. Empty text where it is not known or does not apply. */
public record Hardware(String model, String revision, String region, String brand) {}
