<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Upload;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
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

    /** @param callable(string): void $write makes a WAV file, or none where there is nothing to hear */
    private function make(string $id, callable $write): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($id);
        if (null === $upload || Upload::LISTENING !== $upload->state) {
            return;
        }
        $path = $this->uploads->path($upload).'.wav';
        try {
            $write($path);
            $upload->sample = is_file($path) ? $this->samples->add($path, $upload->name)->hash : null;
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
