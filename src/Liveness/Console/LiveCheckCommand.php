<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Liveness\WebCheck;
use Ypomna\App\Network\WebOptions;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Assessor;
use Ypomna\Core\Liveness\LiveVerdict;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\MainText;

/** One check of addresses: alive, moved, changed, vanished, blocked, unreachable. */
#[AsCommand('live:check', 'Says whether addresses are alive, moved, changed, vanished, blocked or unreachable')]
final class LiveCheckCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument('url', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'Addresses')
            ->addOption('against', null, InputOption::VALUE_REQUIRED, 'An HTML file of the page as it was')
            ->addOption(
                'resolve', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'HOST:PORT:ADDRESS, where a host is; * for any',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        $against = $input->getOption('against');
        $held = null;
        if (\is_string($against)) {
            $file = new GivenFile($against);
            $held = MainText::fromHtml((string) file_get_contents($file->path, false, null, 0, Document::MAX_BYTES));
        }
        /** @var list<string> $routes */
        $routes = $input->getOption('resolve');
        $check = new WebCheck(WebOptions::access($routes));
        $assessor = new Assessor($check, static fn (): string => 'y'.bin2hex(random_bytes(7)));
        /** @var list<string> $given */
        $given = $input->getArgument('url');
        $status = Command::SUCCESS;
        foreach (array_map(self::address(...), $given) as $n => $url) {
            $result = $check->check($url);
            $judged = $assessor->judge($result, $held);
            $out->row([
                'url' => $given[$n], 'verdict' => $judged->verdict->value, 'reason' => $judged->reason->value, 'status' => $result->status,
                'finalUrl' => (string) $result->final, 'hops' => $result->hops,
                'evidence' => $judged->evidence, 'confidence' => round($judged->confidence, 3),
            ], \sprintf(
                '%-11s %-13s %s  %s', $judged->verdict->value, $judged->reason->value, $given[$n], implode(' ', $judged->evidence),
            ));
            $status = LiveVerdict::Alive === $judged->verdict ? $status : Command::FAILURE;
        }

        return $status;
    }

    private static function address(string $given): Url
    {
        try {
            return Url::typed($given);
        } catch (InvalidAddress $e) {
            throw new UnreadableFile($e->getMessage());
        }
    }
}
