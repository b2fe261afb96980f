<?php

namespace Pestle\App\Console;

use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Carried\Damaged;
use Pestle\Core\Exchange\Midi\UnreadableMidi;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** What all commands of Pestle have in common: what fails is said in a sentence on the error output, and ends with 1; what was asked wrongly, with 2. */
abstract class PestleCommand extends Command
{
    final protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            return $this->work($input, $output);
        } catch (WronglyAsked $e) {
            self::errors($output)->writeln($e->getMessage(), OutputInterface::OUTPUT_RAW);

            return Command::INVALID;
        } catch (InvalidChange|UnreadableAudio|UnreadableMidi|Unreadable|Damaged|CannotWrite $e) {
            self::errors($output)->writeln($e->getMessage(), OutputInterface::OUTPUT_RAW);

            return Command::FAILURE;
        } catch (\RuntimeException $e) {
            self::errors($output)->writeln(DiskTrouble::sentence($e) ?? throw $e, OutputInterface::OUTPUT_RAW);

            return Command::FAILURE;
        }
    }

    /** @return int exit code */
    abstract protected function work(InputInterface $input, OutputInterface $output): int;

    protected static function errors(OutputInterface $output): OutputInterface
    {
        return $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
    }

    protected static function argument(InputInterface $input, string $name): string
    {
        $value = $input->getArgument($name);

        return \is_string($value) ? $value : '';
    }

    /** @return string "" where it was not given */
    protected static function option(InputInterface $input, string $name): string
    {
        $value = $input->getOption($name);

        return \is_string($value) ? $value : '';
    }
}
