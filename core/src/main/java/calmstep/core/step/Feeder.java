package calmstep.core.step;

import calmstep.core.device.DeviceDoor;

/**
 * The base that sends a unit its files.
 *
 * @param address at which it pulls them from the shelf
 */
public record Feeder(String name, String address, DeviceDoor door) {}
