<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Sample;
use Pestle\App\Entity\Upload;
use Pestle\App\Live\CatchLive;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Beat\Performed;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\Fixing;
use Pestle\Core\Exchange\Resampling;
use Pestle\Core\Render\PadSounds;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Makes samples out of what is there: what a beat plays, or a stretch of another sample. */
final readonly class OwnSamples
{
    public function __construct(
        private Uploads $uploads,
        private SampleStore $samples,
        private Beats $beats,
        private EntityManagerInterface $entities,
        private LoggerInterface $logger,
    ) {
    }

    #[AsMessageHandler]
    public function resample(Resample $message): void
    {
        $this->make($message->upload, function (string $path) use ($message): void {
            $record = $this->beats->find($message->beat) ?? throw new InvalidChange('This beat is not there any more.');
            $beat = Resampling::of($this->beats->content($record, $message->head), $message->channel, $message->wet);
            $order = new DeliveryOrder($message->what, null !== $message->what, SampleFormat::Int24, dither: false);
            (new DeliveryWriter($this->samples->library()))->write($beat, $order, $path, \dirname($path), static fn (float $part): bool => true);
        });
    }

    #[AsMessageHandler]
    public function catchLive(CatchLive $message): void
    {
        $this->make($message->upload, function (string $path) use ($message): void {
            $record = $this->beats->find($message->beat) ?? throw new InvalidChange('This beat is not there any more.');
            $set = LiveFields::read(new Fields(['choices' => json_encode($message->choices, \JSON_THROW_ON_ERROR)]));
            $beat = Resampling::of(Performed::song($this->beats->content($record, $message->head), $set, $message->from, $message->to), null, $message->wet);
            // What rings on at its end sounds into its start, so that it is as long as its bars.
            $order = new DeliveryOrder('0-'.($message->to - $message->from), true, SampleFormat::Int24, dither: false);
            (new DeliveryWriter($this->samples->library()))->write($beat, $order, $path, \dirname($path), static fn (float $part): bool => true);
        }, function (Sample $sample) use ($message): void {
            // Nobody need guess what it goes by.
            $beat = $this->beats->content($this->beats->find($message->beat) ?? throw new InvalidChange('This beat is not there any more.'), $message->head);
            foreach (['kind' => 'loop', 'bpm' => $beat->tempo->bpm, 'downbeat' => 0.0, 'key' => $beat->key?->name()] as $fact => $value) {
                $sample->correct($fact, $value);
            }
        });
    }

    #[AsMessageHandler]
    public function lift(Lift $message): void
    {
        $this->make($message->upload, function (string $path) use ($message): void {
            WavWriter::copy($this->samples->library()->open($message->sound), $path, SampleFormat::Float32);
        });
    }

    #[AsMessageHandler]
    public function fix(Fix $message): void
    {
        $this->make($message->upload, function (string $path) use ($message): void {
            $record = $this->beats->find($message->beat) ?? throw new InvalidChange('This beat is not there any more.');
            $fixing = new Fixing($this->beats->content($record, $message->head), $message->entry, $message->part);
            $fixing->write($message->channel, new PadSounds($this->samples->library(), Beat::SAMPLE_RATE), $path, static fn (float $part): bool => true);
        });
    }

    /**
     * @param callable(string): void $write makes a WAV file, or none where there is nothing to hear
     * @param callable(Sample): void $say   what is known of it
     */
    private function make(string $id, callable $write, ?callable $say = null): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($id);
        if (null === $upload || Upload::LISTENING !== $upload->state) {
            return;
        }
        $path = $this->uploads->path($upload).'.wav';
        try {
            $write($path);
            $sample = is_file($path) ? $this->samples->add($path, $upload->name) : null;
            null === $sample || null === $say || $say($sample);
            $upload->sample = $sample?->hash;
            $upload->state = Upload::DONE;
        } catch (InvalidChange|UnreadableAudio $e) {
            $upload->fail($e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A sample could not be made: '.$e->getMessage(), ['exception' => $e]);
            $upload->fail('It could not be made; everything is as it was. The log says more.');
        }
        $this->entities->flush();
        @unlink($path);
    }
}
