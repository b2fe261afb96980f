<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\InsertSettings;

/** Adds an insert to a line, behind those it has. */
final readonly class AddInsert implements Change
{
    private function __construct(private string $node, private string $kind)
    {
    }

    public static function from(Fields $fields): self
    {
        $kind = $fields->text('kind');
        if (!\in_array($kind, InsertSettings::KINDS, true)) {
            throw InvalidChange::field('kind', 'must be one of: '.implode(', ', InsertSettings::KINDS).'.');
        }

        return new self($fields->id('node'), $kind);
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $id = $line->nextInsertId();
        $insert = EqualizerSettings::KIND === $this->kind ? EqualizerSettings::fresh($id) : new CompressorSettings($id, true);

        return $beat->withMixer($beat->mixer->withLine($line->with(['inserts' => [...$line->inserts, $insert]])));
    }

    public function label(Beat $beat): string
    {
        return ucfirst($this->kind).' on '.$beat->nameOf($this->node);
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
