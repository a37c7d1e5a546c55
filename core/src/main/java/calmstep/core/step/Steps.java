package calmstep.core.step;

/** Which step does what. */
final class Steps {
    private Steps() {}

    static Step of(StepName name, Scene scene) {
        return switch (name) {
            case CHECK -> new CheckDevice();
            case BACK_UP -> new BackUpConfiguration();
            case RETURN -> new GoBack();
            case RESCUE -> new RescueFromLoader();
            case REPLACE -> new MeetReplacement();
            case MAKE_ROOM -> new MakeRoom();
            case STAGE -> scene.feeder().<Step>map(StageOverTheAir::new).orElseGet(StageImage::new);
            case CONFIRM_IMAGE -> new ConfirmImage();
            case PRE_LOAD -> new PreLoadDependents();
            case QUIET -> new QuietAlarms();
            case CHOOSE_BOOT -> new ChooseBoot();
            case RESTART_STANDBYS -> new RollMembers(true);
            case DRAIN -> new DrainTraffic();
            case RESTART ->
                    scene.hopPlan().rolls() ? new RollMembers(false) : new RestartDevice(false);
            case SECOND_RESTART -> new RestartDevice(true);
            case COME_BACK, COME_BACK_AGAIN -> new ComeBack();
            case PUT_BACK -> new PutConfigurationBack();
            case RESTORE_ROLES -> new RestoreRoles();
            case PROVE -> new ProveRelease();
            case UN_DRAIN -> new UnDrainTraffic();
            case UN_QUIET -> new UnQuietAlarms();
            case SOAK -> new WatchDevice();
            case TIDY -> new TidyImages();
        };
    }
}
