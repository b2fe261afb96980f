<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Section;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('pestle:show', 'Shows a beat: its parts, patterns, sections with their lengths, and channels.')]
final class ShowBeat extends PestleCommand
{
    public function __construct(private readonly Beats $beats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('beat', InputArgument::REQUIRED, 'the name or the number of a beat');
        $this->addOption('json', null, InputOption::VALUE_NONE, 'the document itself, with the lengths of its sections');
    }

    protected function work(InputInterface $input, OutputInterface $output): int
    {
        $beat = $this->beats->content($this->beats->called(self::argument($input, 'beat')));
        if ($input->getOption('json')) {
            $document = BeatCodec::toArray($beat);
            $document['lengths'] = array_map(static fn (Section $s): int => $s->lengthTicks($beat->patterns), $beat->sections);
            $output->writeln(BeatCodec::json($document), OutputInterface::OUTPUT_RAW);
        } else {
            $output->writeln(self::lines($beat), OutputInterface::OUTPUT_RAW);
        }

        return Command::SUCCESS;
    }

    /** @return list<string> */
    private static function lines(Beat $beat): array
    {
        $bars = static fn (int $ticks): string => 0 === $ticks ? 'empty' : rtrim(rtrim(\sprintf('%.2f', $ticks / $beat->meter->barTicks()), '0'), '.').' bars';
        $lines = [\sprintf('%s: %s BPM, %s, %s', $beat->name, $beat->tempo->bpm, $beat->meter->name(), $beat->key?->name() ?? 'no key'), '', 'Parts'];
        foreach ($beat->parts as $part) {
            $lines[] = \sprintf('  %-10s %-24s %s', $part->id, $part->name, $part->isKit() ? \count($beat->kit->banksOf($part->id)).' banks of pads' : 'keys');
            foreach ($beat->patterns as $pattern) {
                if ($pattern->part === $part->id) {
                    $lines[] = \sprintf('    %-8s %-24s %s, %d %s', $pattern->id, $pattern->name, $bars($pattern->ticks), \count($pattern->hits) + \count($pattern->notes), $part->isKit() ? 'hits' : 'notes');
                }
            }
        }
        array_push($lines, '', 'Sections');
        foreach ($beat->sections as $section) {
            $cells = array_map(static fn (string $part, string $pattern): string => ($beat->parts[$part] ?? null)?->name.': '.($beat->patterns[$pattern] ?? null)?->name, array_keys($section->patterns), array_values($section->patterns));
            $lines[] = \sprintf('  %-10s %-24s %s%s', $section->id, $section->name, $bars($section->lengthTicks($beat->patterns)), [] === $cells ? '' : '  ('.implode(', ', $cells).')');
        }
        array_push($lines, '', 'Song', '  '.implode(', ', array_map(static fn (Entry $e): string => $e->id.' '.$beat->section($e->section)->name.($e->repeats > 1 ? ' × '.$e->repeats : ''), $beat->song)));
        foreach ($beat->tracks as $track) {
            $clips = array_filter($beat->clips, static fn (Clip $c): bool => $c->track === $track->id);
            $lines[] = \sprintf('  %-10s %-24s %s', $track->id, $track->name, implode(', ', array_map(static fn (Clip $c): string => \sprintf('%s %s at bar %s', $c->id, $c->name, round($c->at / $beat->meter->barTicks() + 1, 3)), $clips)));
        }
        array_push($lines, '', 'Mixer');
        foreach ($beat->mixer->nodes as $node) {
            $inserts = array_map(static fn (InsertSettings $i): string => $i->id().' '.$i->kind()->value.($i->acts() ? '' : ' at rest'), $node->inserts);
            $lines[] = \sprintf('  %-10s %-24s %s, %+.1f dB, pan %+.2f, to %s%s%s', $node->id, $node->name, $node->kind->value, $node->gainDb, $node->pan, $beat->mixer->outputOf($node)->name ?? 'master', $node->mute ? ', muted' : '', [] === $inserts ? '' : '  ('.implode(', ', $inserts).')');
        }

        return $lines;
    }
}
