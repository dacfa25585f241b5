<?php

declare(strict_types=1);

/*
 * The stand-in web. Usage: php standin/web.php FOLDER WEB-ADDRESS:PORT DNS-ADDRESS:PORT [PROCESSES]
 * FOLDER holds its clock and its certificates.
 * STANDIN_SITES in the environment names a PHP file that gives further sites.
 */

use Ypomna\Standin\Site\Abroad;
use Ypomna\Standin\Site\Board;
use Ypomna\Standin\Site\Corvane;
use Ypomna\Standin\Site\Lantern;
use Ypomna\Standin\Site\Mirror;
use Ypomna\Standin\Site\Operator;
use Ypomna\Standin\Site\PetrelFan;
use Ypomna\Standin\Site\Tidewatch;
use Ypomna\Standin\Web\Authority;
use Ypomna\Standin\Web\Clock;
use Ypomna\Standin\Web\ControlPage;
use Ypomna\Standin\Web\MailBox;
use Ypomna\Standin\Web\Server;
use Ypomna\Standin\Web\Site;

require __DIR__.'/../vendor/autoload.php';

if (!isset($argv[3])) {
    fwrite(\STDERR, "Usage: php standin/web.php FOLDER WEB-ADDRESS:PORT DNS-ADDRESS:PORT [PROCESSES]\n");
    exit(2);
}
[, $folder, $web, $dns] = $argv;
$clock = new Clock($folder.'/clock.json');
$start = [
    'http://www.saltmarch-ferries.test/safety/stern-door', 'http://www.saltmarch-ferries.test/press/petrel-dawn-update',
    'http://merrowline.test/timetable',
    'http://board.merrow-sound.test/reports/2024/petrel-dawn', 'http://forum.tidewatch.test/t/118', 'http://porthmeia-aliki.test/asfaleia',
    'http://kaikyo-seal.test/products/ks400', 'http://old.petrel-fan.test/',
    'http://lantern.test/2024/11/petrel-dawn-held', 'http://lantern.test/2024/06/summer-crowds',
    'https://corvane-marine.test/products/stern-seal-400',
];
$more = getenv('STANDIN_SITES');
/** @var list<Site> $further */
$further = is_string($more) && is_file($more) ? require $more : [];
$sites = [new Operator(), new Lantern(), new Corvane(), new Board(), new Tidewatch(), new Abroad(), new PetrelFan()];
$sites = [...$sites, new Mirror($sites), ...$further];
try {
    $mail = new MailBox($folder.'/mail');
    (new Server($sites, $clock, new ControlPage($clock, $start, $mail), $mail))
        ->run($web, $dns, new Authority($folder.'/certificates'), (int) ($argv[4] ?? 3));
} catch (RuntimeException $e) {
    fwrite(\STDERR, $e->getMessage()."\n");
    exit(1);
}
