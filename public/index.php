<?php

declare(strict_types=1);

use Symfony\Component\HttpFoundation\Request;
use Ypomna\App\Kernel;
use Ypomna\App\Replay\LeanParts;
use Ypomna\App\Settings;

require dirname(__DIR__).'/vendor/autoload.php';

Settings::load();
umask(0o022);
if (LeanParts::answer($_SERVER, Settings::text('PAGE_HOST', 'localhost'), Settings::text('DATABASE_URL', ''), Settings::dataFolder())) {
    return;
}
$kernel = new Kernel(Settings::environment(), Settings::debug());
$request = Request::createFromGlobals();
$response = $kernel->handle($request);
$response->send();
$kernel->terminate($request, $response);
