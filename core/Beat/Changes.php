<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Mix\Mixer;

/** Every change by the name it has on the wire. */
final class Changes
{
    /** @var array<string, class-string<Change\Change>> */
    private const BY_NAME = [
        'rename-beat' => Change\RenameBeat::class,
        'set-tempo' => Change\SetTempo::class,
        'set-key' => Change\SetKey::class,
        'fill-pad' => Change\FillPad::class,
        'lay-ready-made' => Change\LayReadyMade::class,
        'land-patterns' => Change\LandPatterns::class,
        'land-sounds' => Change\LandSounds::class,
        'set-pad' => Change\SetPad::class,
        'set-layer' => Change\SetLayer::class,
        'remove-layer' => Change\RemoveLayer::class,
        'share-strengths' => Change\ShareStrengths::class,
        'clear-pad' => Change\ClearPad::class,
        'copy-pad' => Change\CopyPad::class,
        'pad-to-part' => Change\PadToPart::class,
        'match-levels' => Change\MatchLevels::class,
        'stack-pads' => Change\StackPads::class,
        'colour-pads' => Change\ColourPads::class,
        'swap-pads' => Change\SwapPads::class,
        'name-bank' => Change\NameBank::class,
        'set-slices' => Change\SetSlices::class,
        'set-slice' => Change\SetSlice::class,
        'exchange-sample' => Change\ExchangeSample::class,
        'set-edits' => Change\SetEdits::class,
        'arrange-slices' => Change\ArrangeSlices::class,
        'slice-set' => Change\ChangeSliceSets::class,
        'one-for-all' => Change\OneForAll::class,
        'slices-to-pads' => Change\SlicesToPads::class,
        'add-pattern' => Change\AddPattern::class,
        'set-feel' => Change\SetFeel::class,
        'shape-lane' => Change\ShapeLane::class,
        'shape-notes' => Change\ShapeNotes::class,
        'set-lane' => Change\SetLane::class,
        'write-feel' => Change\WriteFeel::class,
        'add-groove' => Change\AddGroove::class,
        'remove-groove' => Change\RemoveGroove::class,
        'set-pattern' => Change\SetPattern::class,
        'remove-pattern' => Change\RemovePattern::class,
        'edit-hits' => Change\EditHits::class,
        'erase-held' => Change\EraseHeld::class,
        'record-hits' => Change\RecordHits::class,
        'reshape-pattern' => Change\ReshapePattern::class,
        'feel-apart' => Change\FeelApart::class,
        'edit-notes' => Change\EditNotes::class,
        'add-part' => Change\AddPart::class,
        'copy-part' => Change\CopyPart::class,
        'set-part' => Change\SetPart::class,
        'load-kit' => Change\LoadKit::class,
        'exchange-kit' => Change\ExchangeKit::class,
        'move-hits' => Change\MoveHits::class,
        'set-keys' => Change\SetKeys::class,
        'set-zones' => Change\SetZones::class,
        'set-sound' => Change\SetSound::class,
        'stack-sound' => Change\StackSound::class,
        'unstack-sound' => Change\UnstackSound::class,
        'remove-part' => Change\RemovePart::class,
        'add-section' => Change\AddSection::class,
        'set-section' => Change\SetSection::class,
        'set-cell' => Change\SetCell::class,
        'splice-section' => Change\SpliceSection::class,
        'section-of-range' => Change\SectionOfRange::class,
        'remove-section' => Change\RemoveSection::class,
        'set-song' => Change\SetSong::class,
        'scale-time' => Change\ScaleTime::class,
        'set-rules' => Change\SetRules::class,
        'set-meter' => Change\SetMeter::class,
        'set' => Change\SetParameters::class,
        'set-node' => Change\SetNode::class,
        'add-node' => Change\AddNode::class,
        'remove-node' => Change\RemoveNode::class,
        'own-channel' => Change\OwnChannel::class,
        'kit-group' => Change\KitGroup::class,
        'add-insert' => Change\AddInsert::class,
        'set-bands' => Change\SetBands::class,
        'stage-gains' => Change\StageGains::class,
        'copy-inserts' => Change\CopyInserts::class,
        'set-insert' => Change\SetInsert::class,
        'remove-insert' => Change\RemoveInsert::class,
        'add-send' => Change\AddSend::class,
        'keep-mix' => Change\KeepMix::class,
        'recall-mix' => Change\RecallMix::class,
        'set-snapshot' => Change\SetSnapshot::class,
        'move-line' => Change\MoveLine::class,
        'make-room' => Change\MakeRoom::class,
        'steer-by-pattern' => Change\SteerByPattern::class,
        'set-aside' => Change\SetAside::class,
        'remove-send' => Change\RemoveSend::class,
        'set-movement' => Change\SetMovement::class,
        'write-movement' => Change\WriteMovement::class,
        'shape-movement' => Change\ShapeMovement::class,
        'carry-movement' => Change\CarryMovement::class,
        'add-track' => Change\AddTrack::class,
        'set-track' => Change\SetTrack::class,
        'remove-track' => Change\RemoveTrack::class,
        'fix-part' => Change\FixPart::class,
        'gate-noise' => Change\GateNoise::class,
        'play-again' => Change\PlayAgain::class,
        'lay-parts' => Change\LayParts::class,
        'perform-song' => Change\PerformSong::class,
        'add-clip' => Change\AddClip::class,
        'set-clips' => Change\SetClips::class,
        'split-clip' => Change\SplitClip::class,
        'join-clips' => Change\JoinClips::class,
        'repeat-clip' => Change\RepeatClip::class,
        'choose-take' => Change\ChooseTake::class,
        'crossfade-clip' => Change\CrossfadeClip::class,
        'remove-clips' => Change\RemoveClips::class,
        'set-marker' => Change\SetMarker::class,
        'remove-marker' => Change\RemoveMarker::class,
    ];

    /**
     * @param array<array-key, mixed> $data the change's name under "type", and its fields
     *
     * @throws InvalidChange
     */
    public static function read(array $data): Change\Change
    {
        $type = $data['type'] ?? null;
        $class = \is_string($type) ? self::BY_NAME[$type] ?? null : null;
        if (null === $class) {
            throw InvalidChange::field('type', 'must be one of: '.implode(', ', array_keys(self::BY_NAME)).'.');
        }

        return $class::from(new Fields($data));
    }

    /**
     * The beat after a change; what its values refuse is refused as the change.
     *
     * @throws InvalidChange
     */
    public static function apply(Change\Change $change, Beat $beat): Beat
    {
        try {
            $after = Along::with($beat, $change->apply($beat));
            // Beats that have one from before stay as they are.
            if ($after->mixer !== $beat->mixer && self::isFree($beat->mixer)) {
                $after->mixer->refuseCircles();
            }

            return $after;
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    private static function isFree(Mixer $mixer): bool
    {
        try {
            $mixer->refuseCircles();

            return true;
        } catch (\InvalidArgumentException) {
            return false;
        }
    }

    /**
     * Whether two sets of touched paths have a part in common, or one within the other.
     *
     * @param list<string> $a
     * @param list<string> $b
     */
    public static function collide(array $a, array $b): bool
    {
        foreach ($a as $x) {
            foreach ($b as $y) {
                if (str_starts_with($x.'/', $y.'/') || str_starts_with($y.'/', $x.'/')) {
                    return true;
                }
            }
        }

        return false;
    }
}
