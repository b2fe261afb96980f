<?php

namespace Pestle\App\Apart;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\JobState;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Apart\ApartFiles;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Kit\Role;
use Symfony\Component\Filesystem\Filesystem;

/** Recordings taken apart: what is made of each, how far it is, and the four samples it becomes. */
final readonly class TakenApart
{
    public function __construct(private DataFolder $folder, private SampleStore $samples, private Work $work, private EntityManagerInterface $entities)
    {
    }

    public function files(Sample $sample): ApartFiles
    {
        return new ApartFiles($this->place($sample), SoundFile::open($this->samples->library()->path($sample->hash), $sample->name));
    }

    /** Begins, or goes on where it was left. */
    public function begin(Sample $sample): void
    {
        @unlink($this->place($sample).'/problem');
        $job = new TakeApart($sample->hash);
        $there = $this->work->find($job);
        if (JobState::Aside === $there?->state) {
            $this->work->again($there->id);
        } else {
            $this->work->hand($job);
        }
    }

    /** What is done stays and can be gone on with. */
    public function giveUp(Sample $sample): void
    {
        $there = $this->work->find(new TakeApart($sample->hash));
        if (null !== $there) {
            $this->work->letGo($there->id);
        }
    }

    /** Throws away what was made, but for samples of the library. */
    public function forget(Sample $sample): void
    {
        $this->giveUp($sample);
        (new Filesystem())->remove($this->place($sample));
    }

    /** All that are not whole, but for those that are under way. */
    public function forgetHalves(): void
    {
        foreach (glob($this->folder->apart().'/*/*.wav') ?: [] as $path) {
            $hash = basename(\dirname($path));
            if (null === $this->work->find(new TakeApart($hash))) {
                (new Filesystem())->remove(\dirname($path));
            }
        }
    }

    public function state(Sample $sample): ApartState
    {
        $samples = $this->parts($sample);
        $job = [] === $samples ? $this->work->find(new TakeApart($sample->hash)) : null;
        $folder = $this->place($sample);
        $files = is_dir($folder) && is_file($this->samples->library()->path($sample->hash)) ? $this->files($sample) : null;
        $problem = $folder.'/problem';

        return new ApartState($sample, $samples, $job?->state, [] === $samples ? $files?->done() ?? 0 : $sample->frames, $files?->owned(), is_file($problem) ? (string) file_get_contents($problem) : '');
    }

    public function fail(Sample $sample, string $why): void
    {
        (new Filesystem())->dumpFile($this->place($sample).'/problem', $why);
    }

    /** What was made of it, here or in another folder. */
    public function take(Sample $sample, string $folder): void
    {
        $place = $this->place($sample);
        if ($folder !== $place) {
            (new Filesystem())->remove($place);
            (new Filesystem())->rename($folder, $place);
        }
        $files = $this->files($sample);
        $files->isWhole() || throw new \RuntimeException('Its parts are not whole.');
        $this->settle($sample, $files);
    }

    /**
     * The parts become samples that know what the recording does: its tempo, its bars, its key.
     */
    private function settle(Sample $sample, ApartFiles $files): void
    {
        $roles = ['drums' => Role::Percussion, 'bass' => Role::Bass, 'melody' => Role::Tonal, 'voice' => Role::Voice];
        $hashes = [];
        foreach (RecordingPart::cases() as $part) {
            $made = $this->samples->add($files->path($part), mb_substr($sample->name, 0, 58).', '.$part->value.'.wav', [$part->value, 'taken apart']);
            $made->correct('kind', $sample->kind());
            $made->correct('role', $roles[$part->value]->value);
            $made->correct('bpm', $sample->bpm());
            $made->correct('meter', null === $sample->bpm() ? null : $sample->meter()->name());
            $made->correct('grid', $sample->grid()?->encode());
            $made->correct('key', RecordingPart::Drums === $part ? null : $sample->key());
            $hashes[$part->value] = $made->hash;
        }
        $this->entities->flush();
        (new Filesystem())->dumpFile($this->place($sample).'/samples.json', json_encode($hashes, \JSON_THROW_ON_ERROR));
        // What is heard from now on are the samples.
        (new Filesystem())->remove(array_map($files->path(...), RecordingPart::cases()));
    }

    /** @return array<string, Sample> by part; none while they are not all made, or when one is out of the library */
    private function parts(Sample $sample): array
    {
        $path = $this->place($sample).'/samples.json';
        $hashes = is_file($path) ? json_decode((string) file_get_contents($path), true) : null;
        $parts = [];
        foreach (\is_array($hashes) ? $hashes : [] as $part => $hash) {
            $made = \is_string($hash) ? $this->samples->find($hash) : null;
            if (null === $made || null !== $made->clearedAt) {
                return [];
            }
            $parts[(string) $part] = $made;
        }

        return $parts;
    }

    public function place(Sample $sample): string
    {
        return $this->folder->apart().'/'.$sample->hash;
    }
}
