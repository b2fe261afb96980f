<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Upload;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\Resampling;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class ResampleHandler
{
    public function __construct(
        private Uploads $uploads,
        private SampleStore $samples,
        private Beats $beats,
        private EntityManagerInterface $entities,
        private LoggerInterface $logger,
    ) {
    }

    public function __invoke(Resample $message): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($message->upload);
        $record = $this->beats->find($message->beat);
        if (null === $upload || null === $record || Upload::LISTENING !== $upload->state) {
            return;
        }
        $path = $this->uploads->path($upload).'.wav';
        try {
            $beat = Resampling::of($this->beats->content($record, $message->head), $message->channel, $message->wet);
            $order = new DeliveryOrder($message->pattern, null !== $message->pattern, SampleFormat::Int24, dither: false);
            (new DeliveryWriter($this->samples->library()))->write($beat, $order, $path, \dirname($path), static fn (float $part): bool => true);
            $upload->sample = $this->samples->add($path, $upload->name)->hash;
            $upload->state = Upload::DONE;
        } catch (InvalidChange $e) {
            $upload->fail($e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A beat could not be resampled: '.$e->getMessage(), ['exception' => $e]);
            $upload->fail('It could not be resampled; the beat is as it was. The log says more.');
        }
        $this->entities->flush();
        @unlink($path);
    }
}
