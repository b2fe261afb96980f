<?php

namespace Pestle\App\Live;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Beat\Performed;
use Symfony\Component\Filesystem\Filesystem;

/**
 * Performances, one for each beat, kept until another is begun: pages only say what was chosen. What is heard is the song that
 * it is so far, with an end that is far ahead of what plays.
 */
final readonly class LiveSets
{
    /** So far ahead of what plays its end lies, and by so much at once it is moved on: some 96 and 32 bars. */
    private const AHEAD_TICKS = 368_640;
    private const STEP_TICKS = 122_880;

    public function __construct(private DataFolder $folder, private Beats $beats)
    {
    }

    public function of(BeatRecord $record): ?LiveState
    {
        $path = $this->path($record);
        $data = is_file($path) ? json_decode((string) file_get_contents($path), true) : null;
        if (!\is_array($data)) {
            return null;
        }
        $fields = new Fields($data);

        return new LiveState($fields->whole('version', 1, \PHP_INT_MAX), $fields->whole('now', 0, LiveFields::MOST_TICKS), LiveFields::read($fields));
    }

    /**
     * Changes a performance; of two who do at once the second sees what the first did.
     *
     * @param \Closure(?LiveState): LiveState $how
     */
    public function change(BeatRecord $record, \Closure $how): LiveState
    {
        $lock = fopen($this->folder->live().'/'.$record->id.'.lock', 'c');
        \is_resource($lock) && flock($lock, \LOCK_EX) || throw new \RuntimeException('The data folder cannot be written.');
        try {
            $state = $how($this->of($record));
            (new Filesystem())->dumpFile($this->path($record), json_encode(['version' => $state->version, 'now' => $state->now, 'choices' => $state->set->toArray()], \JSON_THROW_ON_ERROR));
        } finally {
            flock($lock, \LOCK_UN);
            fclose($lock);
        }

        return $state;
    }

    /** The beat as it is performed: with what was played and what is planned for its song. */
    public function song(BeatRecord $record): Beat
    {
        return $this->songOf($record, $this->begun($record));
    }

    /** @throws InvalidChange */
    private function begun(BeatRecord $record): LiveState
    {
        return $this->of($record) ?? throw new InvalidChange('Nothing is performed: begin first.');
    }

    private function songOf(BeatRecord $record, LiveState $state): Beat
    {
        return Performed::song($this->beats->content($record), $state->set, 0, min(LiveFields::MOST_TICKS, $this->steps($state) * self::STEP_TICKS));
    }

    /** How far its end lies ahead. */
    private function steps(LiveState $state): int
    {
        return (int) ceil((max($state->now, $state->set->lastTick()) + self::AHEAD_TICKS) / self::STEP_TICKS);
    }

    /** As JSON, which is kept until it is another: it is asked for with every piece of sound. */
    public function json(BeatRecord $record): string
    {
        $state = $this->begun($record);
        $path = $this->folder->live().'/'.$record->id.'.song';
        $key = \sprintf("%d %d %d\n", $state->version, $record->head, $this->steps($state));
        $kept = is_file($path) ? (string) file_get_contents($path) : '';
        if (str_starts_with($kept, $key)) {
            return substr($kept, \strlen($key));
        }
        $json = BeatCodec::encode($this->songOf($record, $state));
        (new Filesystem())->dumpFile($path, $key.$json);

        return $json;
    }

    private function path(BeatRecord $record): string
    {
        return $this->folder->live().'/'.$record->id.'.json';
    }
}
