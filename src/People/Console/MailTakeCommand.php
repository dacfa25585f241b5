<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\People\ArrivingMail;
use Ypomna\App\People\CannotChange;

/** Where a mail server pipes messages to. How it ends tells the server what to do with the message (sysexits.h). */
#[AsCommand('mail:take', 'Takes in a mail message: its addresses are captured, its attachments and itself are kept')]
final class MailTakeCommand extends Command
{
    /** It is no message: it goes back. */
    private const NO_MESSAGE = 65;
    /** Something is away: the server tries again. */
    private const LATER = 75;

    public function __construct(private readonly ArrivingMail $mail, private readonly TranslatorInterface $translator)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::OPTIONAL, 'The message; - for standard input', '-')
            ->addOption('as', null, InputOption::VALUE_REQUIRED, 'In whose name, whoever sent it: for messages that wait');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $as = $input->getOption('as');
        $file = $input->getArgument('file');
        $path = (string) tempnam(sys_get_temp_dir(), 'mail');
        try {
            $from = '-' === $file ? \STDIN : (\is_string($file) && is_file($file) ? fopen($file, 'r') : false);
            $to = fopen($path, 'w');
            if (false === $from || false === $to) {
                $output->writeln('The message cannot be read.', OutputInterface::OUTPUT_RAW);

                return self::NO_MESSAGE;
            }
            if (stream_copy_to_stream($from, $to, ArrivingMail::LARGEST + 1) > ArrivingMail::LARGEST) {
                $output->writeln('The message is larger than 100 MB.', OutputInterface::OUTPUT_RAW);

                return self::NO_MESSAGE;
            }
            fclose($to);
            $taken = $this->mail->take($path, \is_string($as) ? $as : null);
        } catch (CannotChange $e) {
            $output->writeln($e->trans($this->translator), OutputInterface::OUTPUT_RAW);

            return self::NO_MESSAGE;
        } catch (\Throwable $e) {
            $output->writeln('It could not be taken in now: '.$e->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::LATER;
        } finally {
            @unlink($path);
        }
        $output->writeln(null !== $taken->waits
            ? 'Nobody here has sent it, so it waits: '.$taken->waits
            : \sprintf('%d addresses are captured, %d files are taken in.', \count($taken->jobs), \count($taken->files)),
            OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }
}
