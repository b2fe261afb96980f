<?php

namespace Pestle\Core\Apart;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmEncoder;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;

/**
 * The four parts of a recording in a folder, as they are made: WAVs of 32-bit floats that grow piece by piece under their
 * whole header, outlines beside them, and how far they are. What was half written when a process ended is written again.
 */
final class ApartFiles
{
    /** What a WAV can hold. */
    private const MOST_BYTES = 4_294_000_000;

    private int $pieces = 0;
    private Owned $owned;

    private readonly Separation $separation;
    public readonly int $frames;
    private readonly int $pieceFrames;
    private readonly int $peakFrames;

    public function __construct(private readonly string $folder, private readonly AudioSource $source, float $pieceSeconds = Separation::PIECE_SECONDS)
    {
        $this->frames = $source->frames();
        $this->separation = new Separation($source, pieceSeconds: $pieceSeconds);
        $this->pieceFrames = $this->separation->pieceFrames;
        $this->peakFrames = $this->separation->spectra->hop;
        $this->owned = new Owned();
        $this->recall();
    }

    public function path(RecordingPart $part): string
    {
        return $this->folder.'/'.$part->value.'.wav';
    }

    /** How many pieces are there. */
    public function pieces(): int
    {
        return $this->pieces;
    }

    /** How many frames are there. */
    public function done(): int
    {
        return min($this->frames, $this->pieces * $this->pieceFrames);
    }

    public function owned(): Owned
    {
        return $this->owned;
    }

    /**
     * Takes it apart, from where it was left.
     *
     * @param callable(float): mixed $tell how much is done, after each piece; false stops there
     *
     * @return bool whether it is whole
     *
     * @throws \InvalidArgumentException when its parts would be too long to be stored, or what there was of them is not whole
     */
    public function make(callable $tell): bool
    {
        $rate = $this->source->sampleRate();
        if (8 * $this->frames > self::MOST_BYTES) {
            throw new \InvalidArgumentException(\sprintf('It is too long: %d minutes can be taken apart at once. Cut it in two first.', intdiv(intdiv(self::MOST_BYTES, 8), 60 * $rate)));
        }
        for ($pieces = $this->separation->pieces(); $this->pieces < $pieces;) {
            $this->add($this->separation->piece($this->pieces));
            if (false === $tell($this->pieces / $pieces)) {
                break;
            }
        }

        return $this->isWhole();
    }

    public function isWhole(): bool
    {
        return $this->pieces >= $this->separation->pieces();
    }

    private function add(ApartPiece $piece): void
    {
        $encoder = new PcmEncoder(SampleFormat::Float32);
        $header = WavWriter::header($this->source->sampleRate(), SampleFormat::Float32, 8 * $this->frames);
        is_dir($this->folder) || mkdir($this->folder, 0o700, true);
        foreach (RecordingPart::cases() as $part) {
            $block = $piece->of($part);
            $sound = $encoder->encode($block);
            self::put($this->path($part), 0 === $this->pieces ? $header.$sound : $sound, 0 === $this->pieces ? 0 : \strlen($header) + 8 * $this->done());
            self::put($this->outlinePath($part), $this->outlineOf($block), intdiv($this->done() + $this->peakFrames - 1, $this->peakFrames));
        }
        $this->owned = $this->owned->and($piece->owned);
        ++$this->pieces;
        $this->remember();
    }

    public function source(RecordingPart $part): AudioSource
    {
        return new GrowingPart($this, $part, $this->source->sampleRate());
    }

    /** A stretch of a part; what is not there yet is silence. */
    public function read(RecordingPart $part, int $start, int $count): StereoBlock
    {
        $done = $this->done();
        if (0 === $done) {
            return StereoBlock::silence($count);
        }
        $file = SoundFile::open($this->path($part));

        return Reading::padded($start, $count, min($done, $file->frames()), $file->read(...));
    }

    /** Largest value of each stretch as a byte, full scale being 255, from one of them on. */
    public function outline(RecordingPart $part, int $from = 0): string
    {
        $known = is_file($this->outlinePath($part)) ? (string) file_get_contents($this->outlinePath($part)) : '';

        return substr($known, $from, max(0, (int) ceil($this->done() / $this->peakFrames) - $from));
    }

    private function outlinePath(RecordingPart $part): string
    {
        return $this->folder.'/'.$part->value.'.outline';
    }

    private function outlineOf(StereoBlock $block): string
    {
        $out = '';
        for ($at = 0, $frames = $block->frames(); $at < $frames; $at += $this->peakFrames) {
            $out .= \chr((int) min(255.0, 255.0 * $block->slice($at, $this->peakFrames)->peak()));
        }

        return $out;
    }

    private static function put(string $path, string $bytes, int $at): void
    {
        $stream = @fopen($path, 'c');
        if (\is_resource($stream) && (fstat($stream)['size'] ?? 0) < $at) {
            throw new \InvalidArgumentException('What there was of its parts is no longer whole: throw it away and begin anew.');
        }
        $written = \is_resource($stream) && ftruncate($stream, max(0, $at)) && 0 === fseek($stream, $at) && \strlen($bytes) === @fwrite($stream, $bytes) && fclose($stream);
        $written || throw new \RuntimeException($path.' cannot be written: the disk may be full.');
    }

    private function remember(): void
    {
        $state = ['pieces' => $this->pieces, 'power' => $this->owned->power, 'alone' => $this->owned->alone, 'nobody' => $this->owned->nobody];
        file_put_contents($part = $this->folder.'/state.json.part', json_encode($state, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION));
        rename($part, $this->folder.'/state.json');
    }

    private function recall(): void
    {
        $path = $this->folder.'/state.json';
        $state = is_file($path) ? json_decode((string) file_get_contents($path), true) : null;
        if (\is_array($state) && \is_int($state['pieces'] ?? null) && \is_array($state['power'] ?? null) && \is_array($state['alone'] ?? null) && is_numeric($state['nobody'] ?? null)) {
            $this->pieces = $state['pieces'];
            $floats = static fn (array $values): array => array_values(array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, $values));
            $this->owned = new Owned($floats($state['power']), $floats($state['alone']), (float) $state['nobody']);
        }
    }
}
