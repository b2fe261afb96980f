<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Upload;
use Pestle\App\Live\CatchLive;
use Pestle\App\Queue\Job;
use Pestle\App\Storage\Beats;
use Pestle\App\Task\Bench;
use Pestle\App\Task\Load;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Task;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Beat\Performed;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\Fixing;
use Pestle\Core\Exchange\Resampling;
use Pestle\Core\Render\PadSounds;

/**
 * Makes a sample out of what is there.
 *
 * @implements Task<OwnSample>
 */
final readonly class OwnSampleTask implements Task
{
    /** What it is called on the bench; there is none where there is nothing to hear. */
    private const FILE = 'sample.wav';

    public function __construct(private Uploads $uploads, private SampleStore $samples, private Beats $beats, private EntityManagerInterface $entities)
    {
    }

    public static function name(): string
    {
        return 'sample';
    }

    public function pack(Job $job): ?Load
    {
        if (!$this->goesOn($job)) {
            return null;
        }
        if ($job instanceof Lift) {
            return new Load(['sound' => $job->sound], [substr($job->sound, 0, 64)]);
        }
        [$beat, $what] = match (true) {
            $job instanceof Fix => [$this->beat($job), ['entry' => $job->entry, 'part' => $job->part, 'channel' => $job->channel]],
            $job instanceof Resample => [Resampling::of($this->beat($job), $job->channel, $job->wet), ['what' => $job->what, 'loop' => null !== $job->what]],
            // What rings on at its end sounds into its start, so that it is as long as its bars.
            $job instanceof CatchLive => [$this->performed($job), ['what' => '0-'.($job->to - $job->from), 'loop' => true]],
            default => throw new \LogicException('Nobody knows how '.$job::class.' becomes a sample.'),
        };
        $json = BeatCodec::encode($beat);

        return new Load(['beat' => $json] + $what, Beats::samplesIn($json));
    }

    public function goesOn(Job $job): bool
    {
        $upload = $this->uploads->find($job->upload);

        return null !== $upload && $this->uploads->isWanted($upload);
    }

    public function work(array $what, Bench $bench): ?array
    {
        $fields = new Fields($what);
        $path = $bench->folder.'/'.self::FILE;
        if ($fields->has('sound')) {
            WavWriter::copy($bench->samples->open($fields->text('sound', 60_000)), $path, SampleFormat::Float32);

            return [];
        }
        $beat = BeatCodec::decode(\is_string($what['beat'] ?? null) ? $what['beat'] : '');
        if ($fields->has('entry')) {
            (new Fixing($beat, $fields->id('entry'), $fields->id('part')))->write($fields->id('channel'), new PadSounds($bench->samples, Beat::SAMPLE_RATE), $path, $bench->tell(...));

            return [];
        }
        $order = new DeliveryOrder($fields->has('what') ? $fields->text('what') : null, $fields->flag('loop'), SampleFormat::Int24, dither: false);
        $made = (new DeliveryWriter($bench->samples))->write($beat, $order, $path, $bench->folder, $bench->tell(...));

        return null === $made ? null : [];
    }

    public function settle(Job $job, Outcome $outcome): void
    {
        $upload = $this->uploads->find($job->upload);
        if (null === $upload || !$this->uploads->isWanted($upload)) {
            return;
        }
        try {
            null === $outcome->trouble || throw new InvalidChange($outcome->trouble);
            $path = $outcome->folder.'/'.self::FILE;
            $sample = is_file($path) ? $this->samples->add($path, $upload->name) : null;
            if ($job instanceof CatchLive && null !== $sample) {
                // Nobody need guess what it goes by.
                $beat = $this->beat($job);
                foreach (['kind' => 'loop', 'bpm' => $beat->tempo->bpm, 'downbeat' => 0.0, 'key' => $beat->key?->name()] as $fact => $value) {
                    $sample->correct($fact, $value);
                }
            }
            $upload->sample = $sample?->hash;
            $upload->state = Upload::DONE;
            $this->entities->flush();
        } catch (InvalidChange|UnreadableAudio $e) {
            $this->uploads->fail($upload, $e->getMessage());
        }
    }

    private function performed(CatchLive $job): Beat
    {
        $set = LiveFields::read(new Fields(['choices' => json_encode($job->choices, \JSON_THROW_ON_ERROR)]));

        return Resampling::of(Performed::song($this->beat($job), $set, $job->from, $job->to), null, $job->wet);
    }

    private function beat(Fix|Resample|CatchLive $job): Beat
    {
        return $this->beats->content($this->beats->find($job->beat) ?? throw new InvalidChange('This beat is not there any more.'), $job->head);
    }
}
