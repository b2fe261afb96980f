<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\SampleCheck;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\WrittenBeat;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:beat:make', 'Makes a beat from a written description: pads, patterns as rows of steps and notes, sections, song.')]
final class BeatMake extends PestleCommand
{
    private const MOST_BYTES = 20_000_000;

    public function __construct(private readonly Beats $beats, private readonly SampleStore $samples, private readonly SampleCheck $check)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'FILE.json; - for standard input');
        $this->setHelp('Samples are named by their files, from the folder of the description on, or by their names in the library. docs/written-beats.md describes it. Prints number and name; exits with 1, and makes no beat, where anything in it cannot be.');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $file = self::argument($input, 'file');
        $json = '-' === $file ? stream_get_contents(\STDIN, self::MOST_BYTES) : (is_file($file) ? file_get_contents($file, false, null, 0, self::MOST_BYTES) : throw new WronglyAsked(\sprintf('%s is not there.', $file)));
        $written = json_decode((string) $json, true, 64);
        if (!\is_array($written)) {
            throw new InvalidChange(\sprintf('%s cannot be read as JSON: %s.', $file, json_last_error_msg()));
        }
        $folder = '-' === $file ? (string) getcwd() : \dirname($file);
        $beat = WrittenBeat::read(new Fields($written), fn (string $name): array => $this->sample($folder, $name));
        $this->check->changed(Beat::empty($beat->name), $beat);
        $record = $this->beats->add($beat);
        $output->writeln(\sprintf('%d  %s', $record->id, $record->name), OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }

    /**
     * @return array{hash: string, frames: int, role: string, note: float}
     *
     * @throws InvalidChange
     */
    private function sample(string $folder, string $name): array
    {
        $path = str_starts_with($name, '/') ? $name : $folder.'/'.$name;
        try {
            $sample = is_file($path) ? $this->samples->add(self::copied($path), basename($path)) : $this->samples->inOrder('name = ? AND cleared_at IS NULL ORDER BY added_at DESC LIMIT 1', [$name])[0] ?? null;
        } catch (UnreadableAudio $e) {
            throw new InvalidChange($e->getMessage());
        }

        return null === $sample ? throw new InvalidChange(\sprintf('%s is neither a file there nor a sample of the library.', $name)) : ['hash' => $sample->hash, 'frames' => $sample->frames, 'role' => $sample->role()->value, 'note' => $sample->pitch() ?? 60.0];
    }

    /** The library may take the file it is given. */
    private static function copied(string $path): string
    {
        $copy = (string) tempnam(sys_get_temp_dir(), 'pestle');
        copy($path, $copy);
        register_shutdown_function(static fn (): bool => @unlink($copy));

        return $copy;
    }
}
